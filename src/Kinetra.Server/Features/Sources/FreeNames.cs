using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;

namespace Kinetra.Server.Features.Sources;

/// <summary>Names and looks that nothing else in a show has.</summary>
static class FreeNames
{
    /// <summary>The wanted name for a source, cut and numbered where it must be.</summary>
    public static string For(Rig rig, string wanted) => For(rig.Sources.Select(s => s.Name), wanted, "Sound");

    /// <summary>The wanted name among others, cut and numbered where it must be.</summary>
    /// <param name="taken">Names that are taken.</param>
    /// <param name="wanted">The name wished for.</param>
    /// <param name="otherwise">The name where nothing was wished for.</param>
    public static string For(IEnumerable<string> taken, string wanted, string otherwise)
    {
        var names = taken.ToHashSet(StringComparer.OrdinalIgnoreCase);
        wanted = string.Concat(wanted.Where(c => !char.IsControl(c))).Trim();
        wanted = wanted.Length == 0 ? otherwise : Names.Cut(wanted, RigLimits.NameLength - 4).TrimEnd();
        var name = wanted;
        for (var n = 2; names.Contains(name); n++)
        {
            name = $"{wanted} {n}";
        }

        return name;
    }

    /// <summary>The first colour, and the first shape, that no other source has yet.</summary>
    public static SourceLook Look(Rig rig)
    {
        var all = Enumerable.Range(0, SourceLook.Count).ToList();
        var color = all.MinBy(c => rig.Sources.Count(s => s.Look.Color == c));
        var taken = rig.Sources.Where(s => s.Look.Color == color).Select(s => s.Look.Shape).ToHashSet();
        return new(color, all.MinBy(shape => (taken.Contains(shape), rig.Sources.Count(s => s.Look.Shape == shape))));
    }
}
