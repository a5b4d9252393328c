using System.Collections.Immutable;
using System.Globalization;
using System.Text;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

/// <summary>What a cable is called where programs find it.</summary>
/// <param name="Cable">The cable.</param>
/// <param name="Into">The end that programs play into.</param>
/// <param name="OutOf">The end that programs take from.</param>
/// <param name="CloseTo">Another cable of the show that it could be taken for; null: none.</param>
public sealed record CableEnds(CableId Cable, string Into, string OutOf, string? CloseTo);

/// <summary>Names of cables and of their two ends.</summary>
public static class CableNames
{
    /// <summary>The end that programs play into: it begins otherwise than the other one, so that a list that cuts names short still tells them apart.</summary>
    public static string Into(string name) => $"Into {name}";

    /// <summary>The end that programs take from.</summary>
    public static string OutOf(string name) => $"Out of {name}";

    /// <summary>The ends of all cables of a rig.</summary>
    public static ImmutableArray<CableEnds> Of(Rig rig)
    {
        ArgumentNullException.ThrowIfNull(rig);
        return
        [
            .. rig.Cables.Select(c => new CableEnds(
                c.Id, Into(c.Name), OutOf(c.Name), rig.Cables.FirstOrDefault(o => o.Id != c.Id && AreClose(o.Name, c.Name))?.Name)),
        ];
    }

    /// <summary>
    /// True where one of two names could be read as the other: letters and figures alone, whatever the case and the accents, are the same, or
    /// one letter or figure, or two beside each other that have changed places, makes the difference.
    /// </summary>
    public static bool AreClose(string one, string other)
    {
        var (a, b) = (Plain(one), Plain(other));
        if (a.Length < b.Length)
        {
            (a, b) = (b, a);
        }

        var same = 0;
        while (same < b.Length && a[same] == b[same])
        {
            same++;
        }

        var restA = a.AsSpan(same);
        var restB = b.AsSpan(same);
        return restA.IsEmpty
            || (a.Length == b.Length + 1 && restA[1..].SequenceEqual(restB))
            || (a.Length == b.Length && restA[1..].SequenceEqual(restB[1..]))
            || (a.Length == b.Length && restA.Length > 1 && restA[0] == restB[1] && restA[1] == restB[0] && restA[2..].SequenceEqual(restB[2..]));
    }

    private static string Plain(string name) =>
        string.Concat(name.Normalize(NormalizationForm.FormKD).Where(c => CharUnicodeInfo.GetUnicodeCategory(c) != UnicodeCategory.NonSpacingMark && char.IsLetterOrDigit(c)).Select(char.ToUpperInvariant));
}
