using System.Collections.Immutable;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

/// <summary>What makes planned tracks valid. Whether the computer has the programs that they name is no question of a rig.</summary>
static class TrackRules
{
    /// <summary>What a track can take, in words.</summary>
    public const string TakesAllowed = "source/ID or source/ID/before, mix/ID, cable/ID, or app/ID/PORT";

    /// <summary>What that looks like, a regular expression.</summary>
    public const string TakesPattern = "^(source/[a-z0-9-]{1,40}(/before)?|(mix|cable)/[a-z0-9-]{1,40}|app/[a-z0-9-]{1,40}/[a-z0-9-]{1,40})$";

    /// <summary>The name of a file, in words.</summary>
    public const string FileNameAllowed = "1 to 60 characters, none of / \\ : * ? \" < > |, no point or space at either end";

    /// <summary>What that looks like, a regular expression.</summary>
    public const string FileNamePattern = "^(?![. ])[^/\\\\:*?\"<>|\\u0000-\\u001f\\u007f]{1,60}(?<![. ])$";

    public static void Check(ImmutableArray<RigProblem>.Builder problems, Rig rig)
    {
        if (rig.Recording is null || !Enum.IsDefined(rig.Recording.Form))
        {
            problems.Add(new("recording.form", "Unknown form.", string.Join(", ", Enum.GetNames<TakeForm>())));
        }

        if (rig.Recording is { Before: < 0 or > Recording.MostBefore } recording)
        {
            problems.Add(new("recording.before", $"{recording.Before} s from before the press cannot be kept.", $"a whole number from 0 to {Recording.MostBefore}"));
        }

        if (rig.Tracks.IsDefault || rig.Tracks.Length > RigLimits.Tracks || rig.Tracks.Any(t => t is null))
        {
            var what = !rig.Tracks.IsDefault && rig.Tracks.Length > RigLimits.Tracks ? $"A take cannot have {rig.Tracks.Length} tracks." : "These tracks cannot be used.";
            problems.Add(new("tracks", what, $"a list of at most {RigLimits.Tracks}, none of them empty"));
            return;
        }

        var ids = new HashSet<TrackId>();
        HashSet<string> names = new(StringComparer.OrdinalIgnoreCase), files = new(StringComparer.OrdinalIgnoreCase);
        for (var t = 0; t < rig.Tracks.Length; t++)
        {
            var (where, track) = ($"tracks[{t}]", rig.Tracks[t]);
            RigRules.AddIfAny(problems, RigRules.CheckId($"{where}.id", track.Id.Value));
            RigRules.AddIfAny(problems, RigRules.CheckName($"{where}.name", track.Name));
            if (!ids.Add(track.Id))
            {
                problems.Add(new($"{where}.id", "This id is taken.", "an id that no other track has"));
            }

            if (track.Name is not null && !names.Add(track.Name))
            {
                problems.Add(new($"{where}.name", $"Another track is called “{track.Name}” already.", "a name that no other track has"));
            }

            if (!Enum.IsDefined(track.Width))
            {
                problems.Add(new($"{where}.width", "Unknown width.", string.Join(", ", Enum.GetNames<TrackWidth>())));
            }

            if (track.Form is { } form && !Enum.IsDefined(form))
            {
                problems.Add(new($"{where}.form", "Unknown form.", string.Join(", ", Enum.GetNames<TakeForm>())));
            }

            if (track.FileName is { } file)
            {
                if (!IsFileName(file))
                {
                    problems.Add(new($"{where}.fileName", $"“{file}” is no name for a file.", FileNameAllowed));
                }
                else if (!files.Add(file))
                {
                    problems.Add(new($"{where}.fileName", $"Another track’s file is called “{file}” already.", "a name that no other track’s file has"));
                }
            }

            Check(problems, $"{where}.takes", track.Takes, rig);
        }
    }

    private static void Check(ImmutableArray<RigProblem>.Builder problems, string where, Point takes, Rig rig)
    {
        if (takes is not (SourcePoint { Tap: Tap.AfterChain or Tap.BeforeChain } or MixPoint { Tap: Tap.AfterChain } or CablePoint or AppPoint))
        {
            problems.Add(new(where, "No track can take this.", TakesAllowed));
        }
        else if (takes is not AppPoint && !rig.Has(takes))
        {
            problems.Add(new(where, $"The show has no {takes}.", "a source, a mix or a cable of the show") { IsReference = true });
        }
    }

    private static bool IsFileName(string name) =>
        name.Length is >= 1 and <= RigLimits.FileNameLength && name.Trim('.', ' ') == name && !name.Any(c => char.IsControl(c) || "/\\:*?\"<>|".Contains(c, StringComparison.Ordinal));
}
