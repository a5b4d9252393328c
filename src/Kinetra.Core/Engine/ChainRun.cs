using System.Collections.Immutable;
using Kinetra.Core.Dsp;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Engine;

/// <summary>One processor of a plan: its slot, which lives longer than the plan, and what the plan wants of it.</summary>
sealed class ChainStep(Processor processor, ImmutableArray<double> values, ChainSlot slot, Outlet[] keys)
{
    private readonly float[] _keyLeft = keys.Length > 1 ? new float[AudioFormat.BlockFrames] : [];
    private readonly float[] _keyRight = keys.Length > 1 ? new float[AudioFormat.BlockFrames] : [];

    public ProcessorId Id { get; } = processor.Id;

    /// <summary>The points that it listens to; empty: its own input.</summary>
    public ImmutableArray<Point> Keys => processor.Keys;

    public ChainSlot Slot { get; } = slot;

    /// <summary>Frames by which it delays the sound once its values have arrived.</summary>
    public int Latency { get; } = slot.Type.LatencyOf(values);

    /// <summary>True where it may be computed side by side with others of its type.</summary>
    public bool CanJoin => keys.Length == 0 && Slot.Type.SideBySide is not null;

    public void Activate()
    {
        Set(values, processor.Bypassed);
        Slot.Enter();
    }

    /// <summary>True where it is just that, on so many channels, hearing just those keys.</summary>
    public bool IsOf(Processor other, int channels, ReadOnlySpan<Outlet> hears) =>
        ReferenceEquals(processor, other) && Slot.Channels == channels && hears.SequenceEqual(keys);

    /// <summary>Sets all that can be turned.</summary>
    public void Set(ImmutableArray<double> values, bool isBypassed)
    {
        for (var i = 0; i < values.Length; i++)
        {
            Slot.Set(i, values[i]);
        }

        Slot.SetBypassed(isBypassed);
    }

    public void Process(Span<float> left, Span<float> right) => Slot.Process(left, right, Key());

    // One key is read where it is; several are summed. A mono one counts for both sides.
    private Frames Key()
    {
        if (keys.Length < 2)
        {
            return keys.Length == 0 ? default : keys[0].Heard;
        }

        _keyLeft.AsSpan().Clear();
        _keyRight.AsSpan().Clear();
        foreach (var key in keys)
        {
            var sound = key.Heard;
            Mixdown.Add(_keyLeft, sound.Left, 1);
            Mixdown.Add(_keyRight, sound.Right.IsEmpty ? sound.Left : sound.Right, 1);
        }

        return new Frames(_keyLeft, _keyRight);
    }
}

/// <summary>The processors at one place, in order.</summary>
sealed class ChainRun(Point place, ImmutableArray<ChainStep> steps)
{
    private HashSet<ChainSlot> _kept = [];

    public Point Place { get; } = place;

    /// <summary>What went wrong in it while it ran side by side with others, until its node takes it; null: nothing.</summary>
    public Exception? Failure { get; set; }

    public ImmutableArray<ChainStep> Steps { get; } = steps;

    public void Activate()
    {
        foreach (var step in Steps)
        {
            step.Activate();
        }
    }

    /// <summary>
    /// Fades out what the next chain has no more, or has elsewhere; true once that is silent. What stays in its order goes on.
    /// </summary>
    public bool Retire(ChainRun? next)
    {
        var left = true;
        foreach (var step in Steps)
        {
            if (!StaysIn(next, step))
            {
                step.Slot.Leave();
                left &= step.Slot.HasLeft;
            }
        }

        return left;
    }

    public void Process(Span<float> left, Span<float> right)
    {
        foreach (var step in Steps)
        {
            step.Process(left, right);
        }
    }

    // Of a chain that is put in another order, the longest run that keeps its own stays; worked out when the plan was built.
    private bool StaysIn(ChainRun? next, ChainStep step) => next == this || next?._kept.Contains(step.Slot) == true;

    /// <summary>Off the engine thread: notes which slots of the chain before it this one keeps in their order.</summary>
    public void Follow(ChainRun? before)
    {
        var old = before?.Steps.Select(s => s.Slot).ToList() ?? [];
        var places = Steps.Select(s => old.IndexOf(s.Slot)).ToArray();
        var best = new List<int>[places.Length];
        List<int> longest = [];
        for (var i = 0; i < places.Length; i++)
        {
            best[i] = [];
            if (places[i] < 0)
            {
                continue;
            }

            for (var j = 0; j < i; j++)
            {
                if (places[j] >= 0 && places[j] < places[i] && best[j].Count > best[i].Count)
                {
                    best[i] = best[j];
                }
            }

            best[i] = [.. best[i], i];
            longest = best[i].Count > longest.Count ? best[i] : longest;
        }

        _kept = [.. longest.Select(i => Steps[i].Slot)];
    }
}
