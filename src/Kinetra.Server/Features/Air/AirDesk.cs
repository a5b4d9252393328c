using System.Collections.Immutable;
using Kinetra.Core.Findings;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Server.Hosting.Secrets;
using Kinetra.Server.Live;
using Kinetra.Server.Outputs;

namespace Kinetra.Server.Features.Air;

/// <summary>The streams that somebody wants on air. Any thread.</summary>
public sealed class AirDesk(AirPasswords passwords, LiveShow live, Playing playing, Lazy<EngineHost> host, FollowedPoints queues, TimeProvider time) : IHostedService, IDisposable
{
    private readonly AirNeeds _needs = new(queues, live, playing, () => host.Value.Engine.Frame, () => host.Value.Engine.Hushed, time);
    private readonly SemaphoreSlim _changing = new(1);
    private ImmutableArray<AirRun> _runs = [];

    /// <summary>How many are on air, how many are wanted there, and since when the first is.</summary>
    public (int OnAir, int Wanted, DateTimeOffset? Since) Sum
    {
        get
        {
            var runs = _runs;
            if (runs.IsEmpty)
            {
                return (0, 0, null);
            }

            var wanted = runs.Where(r => r.IsWanted && r.Show == live.Show.Id).ToList();
            return (wanted.Count(r => r.IsOnAir), wanted.Count, wanted.Select(r => r.Since).Where(s => s is not null).Min());
        }
    }

    /// <summary>The streams of the live show that should be on air and are not, and why.</summary>
    public ImmutableArray<StreamAway> Away =>
        [.. _runs.Where(r => r.Show == live.Show.Id).Select(r => (r.Id, Why: r.Away)).Where(r => r.Why is not null).Select(r => new StreamAway(r.Id, r.Why!)).OrderBy(a => a.Stream.Value, StringComparer.Ordinal)];

    /// <summary>The streams of the live show that are on air.</summary>
    public ImmutableArray<StreamId> OnAir =>
        [.. _runs.Where(r => r.Show == live.Show.Id && r.IsOnAir).Select(r => r.Id).OrderBy(s => s.Value, StringComparer.Ordinal)];

    /// <summary>How the streams of the live show stand, in its order.</summary>
    public IEnumerable<AirDocument> All => live.Show.Rig.Streams.Select(Document);

    /// <summary>How one stands.</summary>
    public AirDocument Document(Broadcast stream)
    {
        ArgumentNullException.ThrowIfNull(stream);
        var show = live.Show.Id;
        var hasPassword = passwords.Has(show, stream.Id);
        return Find(stream.Id) is { } run
            ? run.Document(hasPassword)
            : new(stream.Id, AirState.Off, "Off.", null, null, 0, 0, 0, 0, [], 0, null, null, null, hasPassword, AirForms.Words(stream.Form, stream.Kilobits, stream.Channels, stream.SampleRate));
    }

    /// <summary>What runs of a stream of the live show, or its last words; null: nothing.</summary>
    internal AirRun? Find(StreamId stream) => _runs.FirstOrDefault(r => r.Id == stream && r.Show == live.Show.Id);

    /// <summary>Wants one on air. One that is wanted already goes on.</summary>
    /// <param name="show">The show that it is of: by the time that it is its turn another may be live, that has one of the same id.</param>
    /// <param name="stream">The stream.</param>
    /// <exception cref="SecretLostException">Its password was kept with keys that are not here.</exception>
    public async Task StartAsync(Guid show, Broadcast stream)
    {
        ArgumentNullException.ThrowIfNull(stream);
        await _changing.WaitAsync();
        try
        {
            if (_runs.Any(r => r.Id == stream.Id && r.Show == show && r.IsRunning))
            {
                return;
            }

            var password = passwords.Of(show, stream.Id);
            Forget(stream.Id);
            var run = new AirRun(show, stream, _needs);
            run.Start(password);
            _runs = _runs.Add(run);
        }
        finally
        {
            _changing.Release();
        }
    }

    /// <summary>Wants one on air no more; what was said up to now still goes out.</summary>
    public async Task StopAsync(StreamId stream)
    {
        // What a server is slow to take of one holds up no other.
        if (Find(stream) is not { } run)
        {
            return;
        }

        await run.StopAsync();
        await _changing.WaitAsync();
        try
        {
            Forget(stream);
        }
        finally
        {
            _changing.Release();
        }
    }

    /// <summary>Tells listeners what they hear. Of what does not carry it in itself the server is told, beside the sound.</summary>
    /// <returns>False: it is not wanted on air.</returns>
    public bool Sing(StreamId stream, string song)
    {
        if (Find(stream) is not { IsRunning: true } run)
        {
            return false;
        }

        run.Sing(song);
        if (!StreamSound.HoldsTitle(run.Stream.Form))
        {
            _ = TellAsync(run, song);
        }

        return true;
    }

    /// <inheritdoc/>
    public Task StartAsync(CancellationToken cancellationToken) => Task.CompletedTask;

    /// <inheritdoc/>
    public async Task StopAsync(CancellationToken cancellationToken) => await Task.WhenAll(_runs.Select(r => r.StopAsync()));

    /// <inheritdoc/>
    public void Dispose() => _changing.Dispose();

    private async Task TellAsync(AirRun run, string song)
    {
        try
        {
            await SongUpdate.SendAsync(run.Stream, passwords.Of(run.Show, run.Id), song, CancellationToken.None);
        }
        catch (Exception e) when (e is StreamServerException or SecretLostException)
        {
            run.SongFailed(song, e.Message);
        }
    }

    private void Forget(StreamId stream)
    {
        // Of other shows nothing is left to be told.
        foreach (var run in _runs.Where(r => !r.IsRunning && (r.Id == stream || r.Show != live.Show.Id)).ToList())
        {
            _runs = _runs.Remove(run);
            run.Dispose();
        }
    }
}
