using System.Collections.Concurrent;
using System.Collections.Immutable;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Pads;

/// <summary>How one press of a pad stands.</summary>
/// <param name="Pad">Which one.</param>
/// <param name="Part">How far it has come from its beginning to its end, 0 … 1.</param>
/// <param name="IsEnding">True: it was stopped and fades out.</param>
public readonly record struct SoundingPad(PadId Pad, double Part, bool IsEnding);

/// <summary>
/// Plays the pads of a show. Any thread gives orders; they are carried out at their exact frame, those of one frame as they were given. Whoever
/// reads the first of its inlets in a block makes it compute that block for all of them. While it plays it allocates nothing, takes no lock and never waits.
/// The same orders give the same samples.
/// </summary>
public sealed class PadPlayer
{
    /// <summary>The most presses that sound at one time. One more ends the one that began first.</summary>
    public const int Voices = 64;

    /// <summary>The most orders that wait for their frame.</summary>
    public const int MostWaiting = 4096;

    // Beside those that sound: so many can be on their way out at one time since another took their place.
    private const int Leaving = Voices;

    private readonly ConcurrentQueue<PadOrder> _orders = new();
    private readonly PadOrder?[] _waiting = new PadOrder?[MostWaiting];
    private readonly PadVoice[] _voices = [.. Enumerable.Range(0, Voices + Leaving).Select(_ => new PadVoice())];
    private readonly Lock _making = new();
    private ImmutableArray<PadInlet> _inlets = [];
    private int _count;
    private int _given;
    private long _frame = -1;
    private long _refused;

    /// <summary>How many presses were not played, since too many came within a moment.</summary>
    public long Refused => Interlocked.Read(ref _refused);

    /// <summary>The inlet of a source; the same for as long as the player lives.</summary>
    public PadInlet Inlet(SourceId source)
    {
        lock (_making)
        {
            foreach (var known in _inlets)
            {
                if (known.Source == source)
                {
                    return known;
                }
            }

            var inlet = new PadInlet(this, source);
            ImmutableInterlocked.InterlockedExchange(ref _inlets, _inlets.Add(inlet));
            return inlet;
        }
    }

    /// <summary>Gives an order.</summary>
    /// <returns>False: <see cref="MostWaiting"/> wait already, and this one is not carried out.</returns>
    public bool Post(PadOrder order)
    {
        ArgumentNullException.ThrowIfNull(order);
        if (Interlocked.Increment(ref _given) > MostWaiting)
        {
            Interlocked.Decrement(ref _given);
            return false;
        }

        _orders.Enqueue(order);
        return true;
    }

    /// <summary>What sounds now, as far as another thread can tell.</summary>
    public IReadOnlyList<SoundingPad> Sounding()
    {
        var sounding = new List<SoundingPad>();
        foreach (var voice in _voices)
        {
            if (voice.Press is { } press)
            {
                var part = (double)(voice.Position - press.Pad.Begin) / Math.Max(1, press.Pad.Frames);
                sounding.Add(new(press.Pad.Id, Math.Clamp(part, 0, 1), voice.IsEnding));
            }
        }

        return sounding;
    }

    /// <summary>Engine thread: computes the block that begins with a frame, once.</summary>
    internal void Advance(long frame)
    {
        if (frame == _frame)
        {
            return;
        }

        _frame = frame;
        Take();
        foreach (var inlet in _inlets)
        {
            inlet.Begin();
        }

        for (var at = 0; at < AudioFormat.BlockFrames;)
        {
            while (_count > 0 && _waiting[0]!.Frame <= frame + at)
            {
                if (!_waiting[0]!.IsCancelled)
                {
                    Carry(_waiting[0]!);
                }

                Array.Copy(_waiting, 1, _waiting, 0, --_count);
                _waiting[_count] = null;
                Interlocked.Decrement(ref _given);
            }

            Aim();
            var next = _count > 0 ? (int)Math.Min(AudioFormat.BlockFrames, _waiting[0]!.Frame - frame) : AudioFormat.BlockFrames;
            at += Play(at, next - at);
        }
    }

    // In the order of their frames; of one frame, as they came.
    private void Take()
    {
        while (_count < MostWaiting && _orders.TryDequeue(out var order))
        {
            var place = _count++;
            for (; place > 0 && _waiting[place - 1]!.Frame > order.Frame; place--)
            {
                _waiting[place] = _waiting[place - 1];
            }

            _waiting[place] = order;
        }
    }

    // No further than to where something ends: what it dims comes back from there on.
    private int Play(int at, int count)
    {
        foreach (var voice in _voices)
        {
            if (voice.Press?.Pad is { Dim: < 1 } pad && pad.End - voice.Position is > 0 and var left && pad.Play != PadPlay.Loop)
            {
                count = Math.Min(count, left);
            }
        }

        foreach (var voice in _voices)
        {
            if (voice.Press is not null)
            {
                voice.Add(at, count);
            }
        }

        foreach (var inlet in _inlets)
        {
            inlet.Dims.Fill(at, count);
        }

        return count;
    }

    private void Carry(PadOrder order)
    {
        switch (order)
        {
            case PadOrder.Press press:
                Begin(press);
                break;
            case PadOrder.Release release:
                foreach (var voice in _voices)
                {
                    if (voice.Press is { Pad: { Play: PadPlay.Held } pad } && pad.Id == release.Pad)
                    {
                        voice.End(pad.StopFade);
                    }
                }

                break;
            case PadOrder.Stop stop:
                foreach (var voice in _voices)
                {
                    if (voice.Press is { Pad: var pad } && (stop.Pad is null || stop.Pad == pad.Id) && (stop.Group is null || stop.Group == pad.Group))
                    {
                        voice.End(stop.Fade ?? pad.StopFade);
                    }
                }

                break;
            case PadOrder.Turn turn:
                foreach (var voice in _voices)
                {
                    if (voice.Press is { Pad: var pad } && (turn.Pad is null || turn.Pad == pad.Id))
                    {
                        voice.Turn(turn.Level, turn.Over);
                    }
                }

                break;
        }
    }

    private void Begin(PadOrder.Press press)
    {
        var pad = press.Pad;
        var sounds = false;
        foreach (var voice in _voices)
        {
            if (voice.Press is { } other && !voice.IsEnding && other.Pad.Id == pad.Id)
            {
                sounds = true;
                if (pad.Play == PadPlay.Loop)
                {
                    voice.End(pad.StopFade);
                }
                else if (pad.Play is PadPlay.Again or PadPlay.Held)
                {
                    voice.End(ReadyPad.ShortestOut);
                }
            }
        }

        if (sounds && pad.Play is PadPlay.Loop or PadPlay.Once)
        {
            return;
        }

        if (Free() is not { } free)
        {
            Interlocked.Increment(ref _refused);
            return;
        }

        foreach (var voice in _voices)
        {
            if (pad.Group.Length > 0 && voice.Press is { Pad: var other } && other.Group == pad.Group && other.Id != pad.Id)
            {
                voice.End(other.StopFade);
            }
        }

        free.Start(press, DimOf(pad.Id, null));
    }

    // What fades out since it was stopped counts as sounding, too, but goes first. Where all are taken, the one that began first makes room.
    private PadVoice? Free()
    {
        PadVoice? free = null, ending = null, oldest = null;
        var sounding = 0;
        foreach (var voice in _voices)
        {
            if (voice.Press is null)
            {
                free ??= voice;
            }
            else if (!voice.IsLeaving)
            {
                sounding++;
                if (voice.IsEnding)
                {
                    ending = Older(ending, voice);
                }
                else
                {
                    oldest = Older(oldest, voice);
                }
            }
        }

        if (free is not null && sounding >= Voices)
        {
            (ending ?? oldest)!.Leave();
        }

        return free;
    }

    private static PadVoice Older(PadVoice? one, PadVoice other) => one is null || other.Played > one.Played ? other : one;

    // What is dimmed by what sounds now.
    private void Aim()
    {
        foreach (var voice in _voices)
        {
            if (voice.Press is { } press)
            {
                voice.Dim(DimOf(press.Pad.Id, null));
            }
        }

        foreach (var inlet in _inlets)
        {
            inlet.Dims.Aim(DimOf(null, inlet));
        }
    }

    // The strongest of others; of what fades out, nothing any more.
    private float DimOf(PadId? but, PadInlet? through)
    {
        var least = 1f;
        foreach (var voice in _voices)
        {
            if (voice.Press is { } press && !voice.IsEnding && press.Pad.Id != but && (through is null || press.Inlet == through))
            {
                least = Math.Min(least, press.Pad.Dim);
            }
        }

        return least;
    }
}
