using System.Collections.Immutable;
using System.Globalization;
using System.Text.RegularExpressions;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

/// <summary>What makes pads valid. Whether their sounds are still there, and how long those are, is no question of a rig.</summary>
static partial class PadRules
{
    /// <summary>What a key is, in words.</summary>
    public const string KeyAllowed = "a key of the writing rows or of the number block, by its place (KeyQ, Digit1, Comma, Numpad5), or nothing";

    public static void Check(ImmutableArray<RigProblem>.Builder problems, Rig rig)
    {
        if (rig.PadSets.IsDefault || rig.PadSets.Length > RigLimits.PadSets || rig.PadSets.Any(s => s is null || s.Pads.IsDefault || s.Pads.Any(p => p is null)))
        {
            problems.Add(new("padSets", "These sets of pads cannot be used.", $"a list of at most {RigLimits.PadSets}, none of them or of their pads empty"));
            return;
        }

        RigRules.CheckUnique(problems, "padSets", [.. rig.PadSets.Select(s => (s.Id.Value, s.Name))]);
        if (rig.PadSets.Sum(s => s.Pads.Length) is > RigLimits.Pads and var all)
        {
            problems.Add(new("padSets", $"There are {all} pads.", $"at most {RigLimits.Pads} in a show"));
        }

        var ids = new HashSet<PadId>();
        for (var s = 0; s < rig.PadSets.Length; s++)
        {
            var (where, set) = ($"padSets[{s}]", rig.PadSets[s]);
            RigRules.AddIfAny(problems, RigRules.CheckId($"{where}.id", set.Id.Value));
            RigRules.AddIfAny(problems, RigRules.CheckName($"{where}.name", set.Name));
            if (set.Pads.Length > RigLimits.PadsOfSet)
            {
                problems.Add(new($"{where}.pads", $"There are {set.Pads.Length} pads in “{set.Name}”.", $"at most {RigLimits.PadsOfSet} in a set"));
            }

            var keys = new Dictionary<string, string>(StringComparer.Ordinal);
            for (var p = 0; p < set.Pads.Length; p++)
            {
                var (at, pad) = ($"{where}.pads[{p}]", set.Pads[p]);
                Check(problems, at, pad);
                if (!ids.Add(pad.Id))
                {
                    problems.Add(new($"{at}.id", "This id is taken.", "an id that no other pad has"));
                }

                if (!string.IsNullOrEmpty(pad.Key) && !keys.TryAdd(pad.Key, pad.Name))
                {
                    problems.Add(new($"{at}.key", $"“{keys[pad.Key]}” lies on this key.", "a key of the set that no other pad lies on"));
                }
            }
        }
    }

    private static void Check(ImmutableArray<RigProblem>.Builder problems, string where, Pad pad)
    {
        RigRules.AddIfAny(problems, RigRules.CheckId($"{where}.id", pad.Id.Value));
        RigRules.AddIfAny(problems, RigRules.CheckId($"{where}.source", pad.Source.Value));
        RigRules.AddIfAny(problems, RigRules.CheckName($"{where}.name", pad.Name));
        RigRules.AddIfAny(problems, RigRules.CheckGain($"{where}.gain", pad.Gain));
        if (!RigRules.IsSoundAddress(pad.Sound))
        {
            problems.Add(new($"{where}.sound", "This is not the address of a stored sound.", RigRules.SoundAllowed));
        }

        Ranged("begin", pad.Begin, 0, RigLimits.LongestPad, "ms");
        Ranged("end", pad.End, 0, RigLimits.LongestPad, "ms");
        Ranged("fadeIn", pad.FadeIn, 0, RigLimits.PadFade, "ms");
        Ranged("fadeOut", pad.FadeOut, 0, RigLimits.PadFade, "ms");
        Ranged("dim", pad.Dim, 0, RigLimits.PadDim, "dB");
        if (pad.End - pad.Begin < RigLimits.ShortestPad)
        {
            problems.Add(new($"{where}.end", $"It would last {Number(pad.End - pad.Begin)} ms.", $"an end {Number(RigLimits.ShortestPad)} ms or more behind the beginning"));
        }

        if (!Enum.IsDefined(pad.Play))
        {
            problems.Add(new($"{where}.play", "Unknown way to play.", string.Join(", ", Enum.GetNames<PadPlay>())));
        }

        if (pad.Key is null || !Keys().IsMatch(pad.Key))
        {
            problems.Add(new($"{where}.key", "This is no key that a pad can lie on.", KeyAllowed));
        }

        if (pad.Group is null || (pad.Group.Length > 0 && RigRules.CheckText("", pad.Group, RigLimits.NameLength) is not null))
        {
            problems.Add(new($"{where}.group", "This is no word for a group.", $"at most {RigLimits.NameLength} characters, no control characters, or nothing"));
        }

        if (pad.Look is not { Color: >= 0 and < SourceLook.Count, Shape: >= 0 and < SourceLook.Count })
        {
            problems.Add(new($"{where}.look", "Unknown colour or shape.", $"whole numbers from 0 to {SourceLook.Count - 1}"));
        }

        void Ranged(string field, double value, double least, double most, string unit)
        {
            if (!(value >= least && value <= most))
            {
                problems.Add(new($"{where}.{field}", $"{Number(value)} {unit} is out of range.", $"a number from {Number(least)} to {Number(most)} {unit}"));
            }
        }
    }

    private static string Number(double value) => value.ToString("0.###", CultureInfo.InvariantCulture);

    [GeneratedRegex(Pad.KeyPattern)]
    private static partial Regex Keys();
}
