using System.Collections.Immutable;

namespace Kinetra.Core.Engine;

/// <summary>A change of levels alone: what runs goes on as it is, and no plan is built. Made of a plan off the engine thread, carried out on it.</summary>
public abstract class LevelChange
{
    private LevelChange()
    {
    }

    internal abstract void Apply();

    internal sealed class OfLink(LinkCell[] cells, double[] units, double factor) : LevelChange
    {
        internal override void Apply()
        {
            for (var i = 0; i < cells.Length; i++)
            {
                cells[i].Set(units[i], factor);
            }
        }
    }

    internal sealed class OfTrim(SourceNode source, double factor) : LevelChange
    {
        internal override void Apply() => source.SetTrim(factor);
    }

    internal sealed class OfGain(MixNode mix, double factor) : LevelChange
    {
        internal override void Apply() => mix.SetGain(factor);
    }

    internal sealed class OfProcessor(ChainStep step, ImmutableArray<double> values, bool isBypassed) : LevelChange
    {
        internal override void Apply() => step.Set(values, isBypassed);
    }

    /// <summary>Sets slots of one chain aside, and makes what leaves its last one louder or softer.</summary>
    internal sealed class OfAside(ImmutableArray<ChainSlot> slots, ChainSlot last, float factor) : LevelChange
    {
        internal override void Apply()
        {
            foreach (var slot in slots)
            {
                slot.SetAside(true);
            }

            last.MakeUp(factor);
        }
    }

    /// <summary>Puts all slots of a chain back, and makes nothing up any more.</summary>
    internal sealed class OfPutBack(ImmutableArray<ChainSlot> slots) : LevelChange
    {
        internal override void Apply()
        {
            foreach (var slot in slots)
            {
                slot.SetAside(false);
                slot.MakeUp(1);
            }
        }
    }
}
