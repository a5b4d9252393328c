using System.Collections.Immutable;
using System.Runtime.CompilerServices;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Engine;

/// <summary>What one send is to come to.</summary>
/// <param name="Mix">In which mix.</param>
/// <param name="Source">Which source.</param>
/// <param name="Factor">The factor that the send has then, 0 or more; its pan stays.</param>
public readonly record struct SendLevel(MixId Mix, SourceId Source, double Factor);

/// <summary>Says which voices somebody holds, so that nothing but the hand that holds them moves them. Asked on the engine's thread: neither waits nor allocates.</summary>
public interface IHeldVoices
{
    /// <summary>True: this one.</summary>
    bool IsHeld(SourceId source);
}

/// <summary>
/// Brings sends to other levels, from a frame on, over some time: at the first block that begins at that frame or behind it, in amplitude, block by block. A send that somebody sets meanwhile
/// is his from then on. What is brought so far is nowhere but in the engine: whoever gave the order stores it, and settles it.
/// </summary>
/// <param name="frame">The engine's frame; what is past already: at the next block.</param>
/// <param name="opening">Of which opening of a show it is (<see cref="EnginePlan.Opening"/>): in another show it does nothing.</param>
/// <param name="levels">What each is to come to; those that are not there then are left out.</param>
/// <param name="over">How long it takes, frames, 0 or more; at once takes one <see cref="Dsp.GainRamp.Frames"/>.</param>
/// <param name="begins">A source that is played from its beginning with that block; null: none.</param>
/// <param name="held">Which voices are held; null: none.</param>
public sealed class LevelOrder(long frame, long opening, ImmutableArray<SendLevel> levels, long over, SourceId? begins = null, IHeldVoices? held = null) : TimedOrder(frame)
{
    private readonly Way[] _ways = new Way[levels.Length];
    private volatile bool _isSettled;
    private long _begun = -1;

    /// <summary>What each is to come to.</summary>
    public ImmutableArray<SendLevel> Levels => levels;

    /// <summary>The one behind it, on the engine's thread.</summary>
    internal LevelOrder? Next { get; set; }

    /// <summary>From now on the show itself says so: whoever says something else means it. Any thread.</summary>
    public void Settle() => _isSettled = true;

    /// <summary>Engine thread: does what is due at a block. False: it is done, or was taken back.</summary>
    internal bool GoOn(EnginePlan plan, long frame, LevelOrder? first)
    {
        if (_begun < 0)
        {
            if (IsCancelled || plan.Opening > opening)
            {
                return false;
            }

            if (frame < Frame || plan.Opening < opening)
            {
                return true;
            }

            Begin(plan, frame, first);
        }

        if (plan.Opening != opening)
        {
            return false;
        }

        // What a plan that was made before says, or the order before, is no word against it until it is settled.
        var settled = _isSettled;
        var isThere = frame - _begun >= over;
        var isWanted = false;
        for (var i = 0; i < _ways.Length; i++)
        {
            ref var way = ref _ways[i];
            if (way.IsGone)
            {
                continue;
            }

            var (mix, source, factor) = levels[i];
            if (plan.SendOf(mix, source) is not { Cells: { Length: > 0 } cells } || held?.IsHeld(source) == true)
            {
                way.IsGone = true;
                continue;
            }

            var now = cells[0].Factor;
            if (now != way.Last && now != factor && (settled || !way.Expects(now)))
            {
                way.IsGone = true;
                continue;
            }

            isWanted = true;
            way.Last = isThere ? factor : way.Start + ((factor - way.Start) * (frame - _begun) / over);
            foreach (var cell in cells)
            {
                cell.Set(cell.Unit, way.Last);
            }
        }

        // Of sends that others have by now nothing is left to do: of a list that runs for hours only the last order of each send is looked at.
        return isWanted && !(isThere && settled);
    }

    private void Begin(EnginePlan plan, long frame, LevelOrder? first)
    {
        _begun = frame;
        if (begins is { } source)
        {
            plan.Restart(source);
        }

        for (var i = 0; i < _ways.Length; i++)
        {
            var (mix, of, _) = levels[i];
            if (plan.SendOf(mix, of) is not { Cells: { Length: > 0 } cells })
            {
                _ways[i].IsGone = true;
                continue;
            }

            var now = cells[0].Factor;
            _ways[i] = new Way { Start = now, Last = now };
            _ways[i].Expect(now);
            for (var other = first; other is not null && other != this; other = other.Next)
            {
                other.GiveOver(mix, of, ref _ways[i]);
            }
        }
    }

    // A later order has it; what this one expected, and would have come to, is no word against that.
    private void GiveOver(MixId mix, SourceId source, ref Way to)
    {
        for (var i = 0; i < _ways.Length; i++)
        {
            if (_begun >= 0 && !_ways[i].IsGone && levels[i].Mix == mix && levels[i].Source == source)
            {
                to.Inherit(_ways[i], levels[i].Factor);
                _ways[i].IsGone = true;
            }
        }
    }

    private struct Way
    {
        public bool IsGone;
        public double Start;
        public double Last;
        private Factors _expected;
        private int _count;

        /// <summary>What the show may say until this is settled, without meaning anything else.</summary>
        public readonly bool Expects(double factor)
        {
            for (var i = 0; i < Math.Min(_count, Factors.Length); i++)
            {
                if (_expected[i] == factor)
                {
                    return true;
                }
            }

            return false;
        }

        // More than so many, one upon the other within the moment that it takes to store one, were not all heard either.
        public void Expect(double factor) => _expected[_count++ % Factors.Length] = factor;

        public void Inherit(in Way before, double factor)
        {
            (_expected, _count) = (before._expected, before._count);
            Expect(factor);
        }
    }

    [InlineArray(Length)]
    private struct Factors
    {
        public const int Length = 8;
#pragma warning disable IDE0044, IDE0051 // The first of an inline array.
        private double _first;
#pragma warning restore IDE0044, IDE0051
    }
}
