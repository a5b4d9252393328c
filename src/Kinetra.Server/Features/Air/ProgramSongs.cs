using Kinetra.Core.Gear;
using Kinetra.Core.Signal;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.Air;

/// <summary>
/// Tells listeners what a program says that it plays, where a stream wants that, whenever it says something else. What a person says in between stays
/// until then.
/// </summary>
sealed class ProgramSongs(AirDesk desk, LiveShow live, ISongTeller programs, StartState start, TimeProvider time) : BackgroundService
{
    // A piece lasts minutes; listeners are seconds behind anyway.
    private static readonly TimeSpan Between = TimeSpan.FromSeconds(1);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        await start.Ready.WaitAsync(stoppingToken);
        var told = new Dictionary<AirRun, string>();
        using var timer = new PeriodicTimer(Between, time);
        while (await timer.WaitForNextTickAsync(stoppingToken))
        {
            var now = new Dictionary<AirRun, string>();
            foreach (var stream in live.Show.Rig.Streams)
            {
                if (stream.SongFrom is not { } app || desk.Find(stream.Id) is not { } run)
                {
                    continue;
                }

                // Also while the line is lost: once it is back, a person's words still stay.
                var before = told.GetValueOrDefault(run);
                if (run.IsOnAir && programs.SongOf(app) is { } song && song != before && desk.Sing(stream.Id, song))
                {
                    before = song;
                }

                if (before is not null)
                {
                    now[run] = before;
                }
            }

            told = now;
        }
    }
}
