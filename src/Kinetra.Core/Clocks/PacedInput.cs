using Kinetra.Core.Signal;

namespace Kinetra.Core.Clocks;

/// <summary>
/// Sound that another program hands over and the engine takes at its own pace: one thread writes, the engine thread reads a block at a time. Nothing is
/// resampled, and what is not late comes out to the sample. Whoever hands it over too late is silent until enough waits again, and from then on more
/// is held; what was handed over is lost in no case. No locks; neither waits for the other.
/// </summary>
/// <param name="channels">1 or 2.</param>
public sealed class PacedInput(int channels) : IPortSound
{
    /// <summary>How much waits before it sounds, frames: at first, and at most, for those that come in large parts.</summary>
    public const int LeastHeld = AudioFormat.SampleRate / 4, MostHeld = 4 * AudioFormat.SampleRate;

    // What may wait beyond that: who hands over a file is not much ahead.
    private const int Beyond = AudioFormat.SampleRate / 2;

    // A power of two that has room for all of it.
    private const int Capacity = 262_144;
    private const int Block = AudioFormat.BlockFrames;

    private readonly float[][] _rings = [.. Enumerable.Range(0, channels).Select(_ => new float[Capacity])];
    private readonly float[][] _block = [.. Enumerable.Range(0, channels).Select(_ => new float[Block])];
    private int _held = LeastHeld;
    private long _written;
    private long _read;
    private long _silent;
    private long _lost;
    private long _gaps;
    private bool _ended;
    private bool _begun;
    private bool _sounds;
    private long _frame = -1;

    /// <summary>1 or 2.</summary>
    public int Channels => channels;

    /// <summary>How many frames sounded.</summary>
    public long Frames => Volatile.Read(ref _read);

    /// <summary>How many frames wait.</summary>
    public int Waiting => (int)Math.Clamp(Volatile.Read(ref _written) - Volatile.Read(ref _read), 0, Capacity);

    /// <summary>How often it came too late.</summary>
    public long Gaps => Interlocked.Read(ref _gaps);

    /// <summary>How many frames were silent by that, those of now among them.</summary>
    public long Lost => Interlocked.Read(ref _lost) + Starving;

    /// <summary>For how many frames it is silent by now, since it came too late; 0: it sounds, has not begun, or is over.</summary>
    public long Starving => Interlocked.Read(ref _silent);

    /// <summary>True once all that was handed over has sounded, and no more comes.</summary>
    public bool IsOver => Volatile.Read(ref _ended) && Waiting == 0;

    /// <summary>Writer: how many frames may be written now.</summary>
    public int Room => Math.Max(0, Volatile.Read(ref _held) + Beyond - Waiting);

    /// <summary>Writer: the next frames.</summary>
    /// <param name="interleaved">At most <see cref="Room"/> of them.</param>
    /// <exception cref="ArgumentException">There is no room for so many.</exception>
    public void Write(ReadOnlySpan<float> interleaved)
    {
        var frames = interleaved.Length / channels;
        if (frames > Capacity - Waiting)
        {
            throw new ArgumentException($"There is no room for {frames} frames.", nameof(interleaved));
        }

        for (var c = 0; c < channels; c++)
        {
            for (var n = 0; n < frames; n++)
            {
                _rings[c][(int)((_written + n) & (Capacity - 1))] = interleaved[(n * channels) + c];
            }
        }

        Volatile.Write(ref _written, _written + frames);
    }

    /// <summary>Writer: nothing more comes. What waits sounds to its end.</summary>
    public void End() => Volatile.Write(ref _ended, true);

    /// <inheritdoc/>
    public void Process(long frame, float[][] block)
    {
        ArgumentNullException.ThrowIfNull(block);
        if (frame != _frame)
        {
            _frame = frame;
            Next();
        }

        for (var c = 0; c < Math.Min(channels, block.Length); c++)
        {
            _block[c].CopyTo(block[c], 0);
        }
    }

    // Whether it has ended is asked first: what was written before that is seen then.
    private void Next()
    {
        var ended = Volatile.Read(ref _ended);
        var waiting = Waiting;
        var rises = false;
        if (!_sounds)
        {
            if (waiting == 0 || (waiting < _held && !ended))
            {
                Array.ForEach(_block, b => b.AsSpan().Clear());
                if (_begun && !ended)
                {
                    Interlocked.Add(ref _silent, Block);
                }
                else if (ended)
                {
                    Settle();
                }

                return;
            }

            // What begins for the first time is passed on as it is.
            rises = _begun;
            Settle();
            (_sounds, _begun) = (true, true);
        }

        // With less than that the next block may not be there: it falls silent while there still is something that can.
        var falls = !ended && waiting < 2 * Block;
        Take(Math.Min(Block, waiting));
        if (rises || falls)
        {
            Ramp(rises, falls);
        }

        if (falls)
        {
            _sounds = false;
            Interlocked.Increment(ref _gaps);
            Volatile.Write(ref _held, Math.Min(2 * _held, MostHeld));
        }
        else if (waiting <= Block)
        {
            _sounds = false;
        }
    }

    private void Settle()
    {
        Interlocked.Add(ref _lost, Interlocked.Exchange(ref _silent, 0));
    }

    private void Take(int frames)
    {
        for (var c = 0; c < channels; c++)
        {
            for (var n = 0; n < frames; n++)
            {
                _block[c][n] = _rings[c][(int)((_read + n) & (Capacity - 1))];
            }

            _block[c].AsSpan(frames).Clear();
        }

        Volatile.Write(ref _read, _read + frames);
    }

    private void Ramp(bool rises, bool falls)
    {
        foreach (var samples in _block)
        {
            for (var n = 0; n < Block; n++)
            {
                samples[n] *= (rises ? (float)n / Block : 1) * (falls ? 1 - ((n + 1f) / Block) : 1);
            }
        }
    }
}
