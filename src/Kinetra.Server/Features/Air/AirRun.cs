using System.Collections.Immutable;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Server.Hosting.Secrets;
using Kinetra.Server.Live;
using Kinetra.Server.Outputs;

namespace Kinetra.Server.Features.Air;

/// <summary>
/// A stream that somebody wants on air: connects, sends, and connects again until somebody wants it no more. Where it stands is told at any time; a
/// server that stalls, lies or vanishes costs the stream its own sound and the engine nothing.
/// </summary>
/// <param name="show">The show that it is of.</param>
/// <param name="stream">How it was when it was started.</param>
/// <param name="desk">What it needs.</param>
sealed class AirRun(Guid show, Broadcast stream, AirNeeds desk) : IDisposable
{
    private const int MostGaps = 20;
    private const double SlowSeconds = 3;
    private static readonly TimeSpan Stall = TimeSpan.FromSeconds(30);
    private static readonly TimeSpan LastWords = TimeSpan.FromSeconds(4);
    private static readonly TimeSpan[] Pauses = [.. new[] { 1, 2, 4, 8, 15, 30 }.Select(s => TimeSpan.FromSeconds(s))];

    private readonly CancellationTokenSource _ending = new();
    private readonly CancellationTokenSource _cut = new();
    private readonly Lock _telling = new();
    private Task _task = Task.CompletedTask;
    private FollowedPoint? _queue;
    private Told _told = new(AirState.Connecting, $"Connects to {stream.Server.Host}.", null);
    private ImmutableArray<AirGap> _gaps = [];
    private int _gapCount;
    private DateTimeOffset? _since;
    private long _frames;
    private long _bytes;
    private long _dropped;
    private long _position;
    private long _lostAt = -1;
    private string? _song;
    private string? _songTrouble;
    private AirPause? _pause;
    private int _pauseTurn;

    /// <summary>The stream.</summary>
    public StreamId Id => stream.Id;

    /// <summary>The show that it is of.</summary>
    public Guid Show => show;

    /// <summary>How it was when it was started.</summary>
    public Broadcast Stream => stream;

    /// <summary>False: it has ended by itself, and only its words are left.</summary>
    public bool IsRunning => !_task.IsCompleted;

    /// <summary>False: nobody wants it on air. Who was refused wants it still, until he says otherwise.</summary>
    public bool IsWanted => IsRunning || Now.State == AirState.Refused;

    /// <summary>Why it is not on air though it should be; null: it is, or was just started.</summary>
    public string? Away
    {
        get
        {
            lock (_telling)
            {
                return _told.State is AirState.Reconnecting or AirState.Refused || (_told.State == AirState.Connecting && _told.Why is not null) ? _told.Why : null;
            }
        }
    }

    /// <summary>True while listeners can hear it.</summary>
    public bool IsOnAir => IsRunning && Now.State is AirState.OnAir or AirState.TooSlow;

    /// <summary>When listeners first got something; null: they did not yet.</summary>
    public DateTimeOffset? Since
    {
        get
        {
            lock (_telling)
            {
                return _since;
            }
        }
    }

    private Told Now
    {
        get
        {
            lock (_telling)
            {
                return _told;
            }
        }
    }

    /// <summary>Begins.</summary>
    public void Start(Secret? password) => _task = Task.Run(() => RunAsync(password));

    /// <summary>Ends it. What was said up to now still goes out, if the server takes it.</summary>
    public async Task StopAsync()
    {
        try
        {
            await _ending.CancelAsync();
            _cut.CancelAfter(LastWords);
        }
        catch (ObjectDisposedException)
        {
            // Two hands at once: the other one has ended it, and it is let go of already.
        }

        await _task;
    }

    /// <summary>Tells listeners what they hear.</summary>
    public void Sing(string song)
    {
        lock (_telling)
        {
            (_song, _songTrouble) = (song, null);
        }
    }

    /// <summary>The server does not know what listeners hear.</summary>
    public void SongFailed(string song, string why)
    {
        lock (_telling)
        {
            _songTrouble = _song == song ? why : _songTrouble;
        }
    }

    /// <summary>Sends something else than the mix from now on, or the mix again.</summary>
    public void Pause(AirPause? instead)
    {
        lock (_telling)
        {
            _pause = instead;
            _pauseTurn++;
        }
    }

    /// <summary>How it stands.</summary>
    public AirDocument Document(bool hasPassword)
    {
        lock (_telling)
        {
            var waiting = _queue?.Waiting ?? 0;
            var (state, words) = (_told.State, _told.Words);
            if (state == AirState.OnAir && waiting > SlowSeconds * AudioFormat.SampleRate)
            {
                (state, words) = (AirState.TooSlow, $"{stream.Server.Host} takes it too slowly: {Rounded(waiting)} s wait. Beyond 10 s the newest is left out.");
            }

            return new(
                stream.Id,
                state,
                words,
                state == AirState.TooSlow ? "A lower bit rate, or what else uses the line." : _told.Check,
                _since,
                Rounded(_frames),
                _bytes,
                Rounded(waiting),
                Rounded(_dropped),
                _gaps,
                _gapCount,
                _song,
                _songTrouble,
                _pause,
                hasPassword,
                AirForms.Words(stream.Form, stream.Kilobits, stream.Channels, stream.SampleRate));
        }
    }

    /// <inheritdoc/>
    public void Dispose()
    {
        _ending.Dispose();
        _cut.Dispose();
    }

    private async Task RunAsync(Secret? password)
    {
        for (var turn = 0; ; turn++)
        {
            if (Problem() is { } ended)
            {
                Tell(new(AirState.Off, ended, null));
                return;
            }

            StreamServerException why;
            var before = _bytes;
            try
            {
                await OneConnectionAsync(password);
                return;
            }
            catch (StreamServerException e)
            {
                why = e;
            }
            catch (OperationCanceledException)
            {
                return;
            }
            catch (Exception e) when (e is not OutOfMemoryException)
            {
                why = new StreamServerException($"Something went wrong here: {e.Message}", null, isRefusal: false);
            }

            // Once it was on air it is tried again whatever is said: a server that has just lost us may not know it yet.
            if (why.IsRefusal && _since is null)
            {
                Tell(new(AirState.Refused, why.Message, why.Check, why.Message));
                return;
            }

            turn = _bytes > before ? 0 : turn;
            var pause = Pauses[Math.Min(turn, Pauses.Length - 1)];
            Lost(why.Message);
            Tell(new(_since is null ? AirState.Connecting : AirState.Reconnecting, $"{why.Message} It is tried again in {pause.TotalSeconds:0} s.", why.Check, why.Message));
            try
            {
                await Task.Delay(pause, desk.Time, _ending.Token);
            }
            catch (OperationCanceledException)
            {
                return;
            }
        }
    }

    private async Task OneConnectionAsync(Secret? password)
    {
        await using var connection = await SourceConnection.OpenAsync(stream, password, _ending.Token);
        var (point, turn) = Wanted();
        var song = SongNow;
        using var sound = new StreamSound(stream, TitleOf(song));
        await SendAsync(connection, sound);
        var queue = Begin(point);
        try
        {
            while (true)
            {
                PointChunk chunk;
                try
                {
                    chunk = await NextAsync(queue, connection);
                }
                catch (OperationCanceledException)
                {
                    await LastAsync(queue, connection, sound);
                    return;
                }

                if (Problem() is { } ended)
                {
                    Tell(new(AirState.Off, ended, null));
                    await LastAsync(null, connection, sound);
                    return;
                }

                if (SongNow is { } now && now != song)
                {
                    song = now;
                    sound.Rename(TitleOf(song));
                }

                Take(sound, chunk, point);
                await SendAsync(connection, sound);
                OnAir(chunk);
                var wanted = Wanted();
                if (wanted.Turn != turn)
                {
                    turn = wanted.Turn;
                    if (wanted.Point != point)
                    {
                        point = wanted.Point;
                        End(queue);
                        queue = Begin(point);
                    }
                }
            }
        }
        finally
        {
            End(queue);
        }
    }

    private async Task<PointChunk> NextAsync(FollowedPoint queue, SourceConnection connection)
    {
        // A server that ends it while the mix stands still is to be told as well.
        using var either = CancellationTokenSource.CreateLinkedTokenSource(_ending.Token);
        var next = queue.ReadAsync(either.Token).AsTask();
        if (await Task.WhenAny(next, connection.Ended) == next)
        {
            return await next;
        }

        await either.CancelAsync();
        try
        {
            await next;
        }
        catch (OperationCanceledException)
        {
        }

        _ending.Token.ThrowIfCancellationRequested();
        throw new StreamServerException(await connection.Ended, "Whether the server was restarted, or somebody ended the stream there.", isRefusal: false);
    }

    private async Task SendAsync(SourceConnection connection, StreamSound sound)
    {
        if (sound.Made.IsEmpty)
        {
            return;
        }

        using var stall = CancellationTokenSource.CreateLinkedTokenSource(_cut.Token);
        stall.CancelAfter(Stall);
        try
        {
            await connection.WriteAsync(sound.Made, stall.Token);
        }
        catch (OperationCanceledException) when (!_cut.IsCancellationRequested)
        {
            throw new StreamServerException($"The server took nothing for {Stall.TotalSeconds:0} s.", "The line to the server.", isRefusal: false);
        }
        catch (IOException)
        {
            // Its last words, if it had any, say more than the broken line.
            var first = await Task.WhenAny(connection.Ended, Task.Delay(TimeSpan.FromMilliseconds(200)));
            throw new StreamServerException(first == connection.Ended ? await connection.Ended : "The connection broke off.", "The line to the server, and whether it was restarted.", isRefusal: false);
        }

        lock (_telling)
        {
            _bytes += sound.Made.Length;
        }

        sound.Taken();
    }

    private void Take(StreamSound sound, PointChunk chunk, Point point)
    {
        var gain = desk.Live.Show.Rig.Streams.FirstOrDefault(s => s.Id == stream.Id)?.Gain ?? stream.Gain;
        bool isSilent;
        lock (_telling)
        {
            // A mix is hushed in the engine; a source, which waits in its place, is not.
            isSilent = point is MixPoint ? _pause is not null : desk.IsHushed();
        }

        sound.Take(chunk.Left, chunk.Right, isSilent ? Gain.Off : gain);
    }

    // What waits when it is ended was said before, and belongs on air.
    private async Task LastAsync(FollowedPoint? queue, SourceConnection connection, StreamSound sound)
    {
        try
        {
            if (queue is not null && _since is not null)
            {
                queue.CatchUp();
                while (queue.Waiting > 0 && Problem() is null)
                {
                    Take(sound, await queue.ReadAsync(_cut.Token), queue.Point);
                    await SendAsync(connection, sound);
                }
            }

            sound.End();
            await SendAsync(connection, sound);
            connection.Finish();
            await Task.WhenAny(connection.Ended, Task.Delay(TimeSpan.FromSeconds(1), _cut.Token));
        }
        catch (Exception e) when (e is StreamServerException or OperationCanceledException)
        {
            // It is over anyway.
        }
    }

    private FollowedPoint Begin(Point point)
    {
        var queue = desk.Queues.Begin("stream", $"the stream {stream.Name}", point);
        lock (_telling)
        {
            _queue = queue;
            _position = desk.Frame();
        }

        return queue;
    }

    private void End(FollowedPoint queue)
    {
        lock (_telling)
        {
            _queue = null;
        }

        desk.Queues.End(queue);
    }

    // While it is paused the mix does not go out, also where the source that waits in its place is not there: then it is silent.
    private (Point Point, int Turn) Wanted()
    {
        lock (_telling)
        {
            Point mix = new MixPoint(stream.Mix);
            var point = _pause is { Source: { } source } ? new SourcePoint(source) : mix;
            return (desk.Playing.Plan.ChannelsOf(point) > 0 ? point : mix, _pauseTurn);
        }
    }

    // Nobody wanted another show's mix of the same id on air.
    private string? Problem() => desk.Live.Show switch
    {
        var now when now.Id != show => "It ended when another show was opened.",
        var now when now.Rig.Streams.All(s => s.Id != stream.Id) => "It ended when it was removed.",
        _ => null,
    };

    private string? SongNow
    {
        get
        {
            lock (_telling)
            {
                return _song;
            }
        }
    }

    private string TitleOf(string? song) => song ?? (stream.Title.Length > 0 ? stream.Title : stream.Name);

    private void OnAir(PointChunk chunk)
    {
        lock (_telling)
        {
            var begin = _position + chunk.Lost;
            _position = begin + chunk.Left.Length;
            _frames += chunk.Left.Length;
            _dropped += chunk.Lost;
            _since ??= desk.Time.GetUtcNow();
            if (_lostAt >= 0)
            {
                var seconds = Rounded(Math.Max(0, begin - _lostAt));
                _gaps = _gaps.SetItem(_gaps.Length - 1, _gaps[^1] with { Seconds = seconds });
                _lostAt = -1;
            }

            if (_told.State != AirState.OnAir)
            {
                _told = new(AirState.OnAir, $"On air at {stream.Server.Host}.", null);
            }
        }
    }

    private void Lost(string words)
    {
        lock (_telling)
        {
            if (_since is not null && _lostAt < 0)
            {
                _lostAt = _position;
                _gaps = [.. _gaps.TakeLast(MostGaps - 1), new AirGap(desk.Time.GetUtcNow(), null, words)];
                _gapCount++;
            }
        }
    }

    private void Tell(Told told)
    {
        lock (_telling)
        {
            _told = told;
        }
    }

    private static double Rounded(long frames) => Math.Round(frames / (double)AudioFormat.SampleRate, 2);

    private sealed record Told(AirState State, string Words, string? Check, string? Why = null);
}

/// <summary>What streams need of the rest.</summary>
/// <param name="Queues">Where a point's sound is had.</param>
/// <param name="Live">The show.</param>
/// <param name="Playing">What the engine plays.</param>
/// <param name="Frame">The engine's frame.</param>
/// <param name="IsHushed">Whether every listener hears silence.</param>
/// <param name="Time">The clock.</param>
sealed record AirNeeds(FollowedPoints Queues, LiveShow Live, Playing Playing, Func<long> Frame, Func<bool> IsHushed, TimeProvider Time);
