using System.Buffers;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Media.Streaming;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Kinetra.Server.Outputs;

namespace Kinetra.Server.Features.Addresses;

/// <summary>Who reads an address now.</summary>
/// <param name="Form">What it gets.</param>
/// <param name="Since">Since when.</param>
/// <param name="Seconds">How much of the sound it took.</param>
/// <param name="LostSeconds">How much it lost, since it was too slow; it is silent in its place.</param>
public sealed record ReaderDocument(StreamForm Form, DateTimeOffset Since, double Seconds, double LostSeconds);

/// <summary>
/// Gives a point's sound to whoever asks for it at an address, for as long as he reads. Each reader has an encoder and a queue of his own: one that is slow, stands
/// still or vanishes costs only himself. Any thread.
/// </summary>
public sealed class LiveReaders(AddressBook book, EngineHost host, Playing playing, LiveShow live, FollowedPoints queues, IHostApplicationLifetime life, TimeProvider time)
{
    /// <summary>The most that read one address at once.</summary>
    public const int MostOfOne = 8;

    // A gap that is longer is not filled: whoever sleeps for an hour does not want an hour of silence.
    private const long MostSilence = 30L * AudioFormat.SampleRate;

    private readonly Lock _changing = new();
    private Reader[] _all = [];

    /// <summary>Who reads the address of that key.</summary>
    public IEnumerable<ReaderDocument> Of(string key) => Volatile.Read(ref _all).Where(r => r.Key == key).Select(r => new ReaderDocument(
        r.Form, r.Since, Math.Round(r.Queue.Frames / (double)AudioFormat.SampleRate, 3), Math.Round(r.Queue.Lost / (double)AudioFormat.SampleRate, 3)));

    /// <summary>Cuts off whoever reads it.</summary>
    public void CutOff(string key)
    {
        foreach (var reader in Volatile.Read(ref _all).Where(r => r.Key == key))
        {
            try
            {
                reader.Ending.Cancel();
            }
            catch (ObjectDisposedException)
            {
                // It has just gone by itself.
            }
        }
    }

    /// <summary>Gives the sound of an address, or says why not.</summary>
    /// <param name="context">The request; its answer lasts as long as somebody reads it.</param>
    /// <param name="key">The key.</param>
    /// <param name="ending">What it is wanted as.</param>
    public async Task ServeAsync(HttpContext context, string key, string ending)
    {
        ArgumentNullException.ThrowIfNull(context);
        if (LiveForms.Of(ending) is not { } form)
        {
            await Problems.NotFound("address", $"There is no sound as “.{ending}”.", string.Join(", ", LiveForms.Endings.Select(e => "." + e))).ExecuteAsync(context);
            return;
        }

        if (book.Find(key) is not { } address)
        {
            await NoSuchAsync(context);
            return;
        }

        if (!host.IsRunning || address.Show != live.Show.Id || Point.Parse(address.Point) is not { } point || playing.Plan.ChannelsOf(point) == 0)
        {
            await Problems.Conflict("address", "What this address stands for is not there now.", "the same once its show is open and has it").ExecuteAsync(context);
            return;
        }

        using var over = CancellationTokenSource.CreateLinkedTokenSource(context.RequestAborted, life.ApplicationStopping);
        var queue = queues.Begin("address", $"a program, as {form}", point);
        var reader = new Reader(key, form, queue, time.GetUtcNow(), over);
        try
        {
            if (!Enter(reader))
            {
                await Problems.Conflict("address", $"{MostOfOne} programs read this address already.", "as many at once").ExecuteAsync(context);
                return;
            }

            // It may have been closed since it was looked up, before this one was there to be cut off.
            if (book.Find(key) is null)
            {
                await NoSuchAsync(context);
                return;
            }

            await GiveAsync(context, reader, address.Show, live.Show.Rig.NameOf(point));
        }
        catch (Exception e) when (e is OperationCanceledException or IOException)
        {
            // He reads no more, or shall not.
        }
        finally
        {
            Leave(reader);
            queues.End(queue);
        }
    }

    private static Task NoSuchAsync(HttpContext context) =>
        Problems.NotFound("address", "There is no such address.", "an address that On air shows, as it stands there").ExecuteAsync(context);

    private async Task GiveAsync(HttpContext context, Reader reader, Guid show, string title)
    {
        var (queue, response) = (reader.Queue, context.Response);
        using var encoder = StreamEncoder.Of(reader.Form, queue.Channels, AudioFormat.SampleRate, LiveForms.Kilobits, title);
        response.ContentType = StreamEncoder.MediaTypeOf(reader.Form);
        response.Headers.CacheControl = "no-store";
        encoder.Begin(response.BodyWriter);
        await response.BodyWriter.FlushAsync(reader.Ending.Token);
        var silence = new float[StreamEncoder.MostFrames];
        while (true)
        {
            var chunk = await queue.ReadAsync(reader.Ending.Token);

            // Another show may have a mix of the same id: nobody was given that one.
            if (live.Show.Id != show)
            {
                return;
            }

            for (var lost = Math.Min(chunk.Lost, MostSilence); lost > 0; lost -= StreamEncoder.MostFrames)
            {
                var part = silence.AsSpan(0, (int)Math.Min(lost, StreamEncoder.MostFrames));
                encoder.Encode(part, part, response.BodyWriter);
            }

            encoder.Encode(chunk.Left, chunk.Right, response.BodyWriter);
            await response.BodyWriter.FlushAsync(reader.Ending.Token);
        }
    }

    private bool Enter(Reader reader)
    {
        lock (_changing)
        {
            if (_all.Count(r => r.Key == reader.Key) >= MostOfOne)
            {
                return false;
            }

            Volatile.Write(ref _all, [.. _all, reader]);
            return true;
        }
    }

    private void Leave(Reader reader)
    {
        lock (_changing)
        {
            Volatile.Write(ref _all, [.. _all.Where(r => r != reader)]);
        }
    }

    private sealed record Reader(string Key, StreamForm Form, FollowedPoint Queue, DateTimeOffset Since, CancellationTokenSource Ending);
}
