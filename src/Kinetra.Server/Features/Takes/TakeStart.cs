using Kinetra.Core.Signal;
using Kinetra.Core.Takes;
using Kinetra.Data.Rows;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.Takes;

/// <summary>Begins takes, whoever wants one: in turn with the show's steps. What a take takes goes on for it until it ends, whatever becomes of the show.</summary>
public sealed class TakeStart
{
    private readonly Turn _turn;
    private readonly LiveShow _live;
    private readonly Playing _playing;
    private readonly EngineHost _host;
    private readonly TakeRecorder _recorder;
    private readonly TakeBefore _before;

    /// <summary>Makes it.</summary>
    public TakeStart(Turn turn, LiveShow live, Playing playing, EngineHost host, TakeRecorder recorder, TakeBefore before)
    {
        ArgumentNullException.ThrowIfNull(recorder);
        (_turn, _live, _playing, _host, _recorder, _before) = (turn, live, playing, host, recorder, before);
        recorder.Ended += _ => playing.Keep(null);
    }

    /// <summary>Begins a take of the live show.</summary>
    /// <param name="name">What it is called; null: by the show and the time.</param>
    /// <param name="fromBefore">True: it has what the show wishes from before the press.</param>
    /// <param name="cancel">Gives up before it has begun.</param>
    /// <returns>The take, or null where one is being recorded already.</returns>
    /// <exception cref="IOException">The files cannot be made.</exception>
    /// <exception cref="NothingToRecordException">There is nothing to record.</exception>
    public Task<TakeRow?> BeginAsync(string? name, bool fromBefore, CancellationToken cancel) => _turn.TakeAsync(
        async () =>
        {
            if (_recorder.Current is not null)
            {
                return null;
            }

            // Kept from when it has begun: by then the end of the take before has let go of what that kept, and no step comes in between.
            var (show, plan) = (_live.Show, _playing.Plan);
            var take = await _recorder.StartAsync(show, plan, _host.Engine, name, fromBefore && _before.IsOf(show.Id) ? (long)show.Rig.Recording.Before * AudioFormat.SampleRate : 0, cancel);
            if (take is not null)
            {
                _playing.Keep(TakeKeep.Of(show.Rig, take.Tracks.Select(t => Point.Parse(t.Point)).OfType<Point>()));
                if (_recorder.Current != take.Id)
                {
                    // It ended at once, since its disk is full.
                    _playing.Keep(null);
                }
            }

            return take;
        },
        cancel);
}
