using Kinetra.Core.Dsp;
using Kinetra.Core.Processors;

namespace Kinetra.Core.Routing;

/// <summary>By what a link and its chain multiply a sound, as they are when nothing is reduced.</summary>
static class ChainGain
{
    /// <summary>
    /// Each side of the chain into itself, and into the other one; with the link's own factor, its filters apart. What sides do to one another is
    /// the same in any order.
    /// </summary>
    public static (double Own, double Cross) Steady(Link link)
    {
        var (own, cross) = (link.Factor, 0.0);
        foreach (var processor in link.Chain)
        {
            if (!processor.Bypassed && ProcessorTypes.Find(processor.Type) is { Design: null } type)
            {
                var settings = new ProcessorSettings(link.Map.From, processor.ValuesOf(type));
                var (through, over) = (type.MostGain(settings), type.CrossGain(settings));
                (own, cross) = ((own * through) + (cross * over), (own * over) + (cross * through));
            }
        }

        return (own, cross);
    }

    /// <summary>The filters of a link's chain.</summary>
    public static BiquadCoefficients[] SectionsOf(Link link)
    {
        var all = new List<BiquadCoefficients>();
        foreach (var processor in link.Chain)
        {
            if (!processor.Bypassed && ProcessorTypes.Find(processor.Type) is { Design: { } design } type)
            {
                var sections = new BiquadCoefficients[type.Sections];
                design(processor.ValuesOf(type).AsSpan(), sections);
                all.AddRange(sections.Where(c => c != FilterDesign.Through));
            }
        }

        return [.. all];
    }
}
