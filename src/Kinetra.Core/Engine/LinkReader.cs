using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Engine;

/// <summary>Where a link reads, and how late.</summary>
readonly record struct Reading(Outlet From, int Delay);

/// <summary>Reads an outlet late by some frames. Another outlet, or another delay, is faded in.</summary>
sealed class LinkReader(Reading initial)
{
    private readonly Crossing<Reading> _reading = new(initial);

    /// <summary>What is read now.</summary>
    public Outlet From => _reading.Now.From;

    /// <summary>True where it reads what is given in this very block, and nothing else.</summary>
    public bool IsDirect => _reading.IsSettled && _reading.Wanted.Delay == 0;

    /// <summary>True where it reads one outlet at one delay.</summary>
    public bool IsSettled => _reading.IsSettled;

    /// <summary>Changes what is read: faded where it is heard, else at once. Delays go up to <see cref="Outlet.MaxDelay"/> frames.</summary>
    public void Set(Outlet from, int delay, bool isHeard)
    {
        _reading.Set(new Reading(from, Math.Min(delay, Outlet.MaxDelay)));
        if (!isHeard)
        {
            _reading.Arrive();
        }
    }

    /// <summary>Once a block, before it is read: takes the change.</summary>
    public void Begin() => _reading.Begin();

    /// <summary>One channel of the block of that frame.</summary>
    /// <param name="channel">From 0.</param>
    /// <param name="frame">The engine frame that the block begins with.</param>
    /// <param name="block">Where it goes.</param>
    /// <param name="before">Room for another block.</param>
    public void Read(int channel, long frame, Span<float> block, Span<float> before)
    {
        Read(_reading.Now, channel, frame, block);
        if (_reading.IsCrossing)
        {
            Read(_reading.Old, channel, frame, before);
            _reading.Blend(before, block);
        }
    }

    // What is given in this very block need not have been kept.
    private static void Read(Reading reading, int channel, long frame, Span<float> block)
    {
        if (reading.Delay == 0)
        {
            reading.From.Now(channel).CopyTo(block);
        }
        else
        {
            reading.From.Read(channel, frame - reading.Delay, block);
        }
    }

    /// <summary>Once a block, after all channels have been read.</summary>
    public void End() => _reading.End(AudioFormat.BlockFrames);
}
