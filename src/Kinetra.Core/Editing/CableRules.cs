using System.Collections.Immutable;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

/// <summary>What makes the cables of a rig valid, and the sources that record from them.</summary>
public static class CableRules
{
    internal static void Check(ImmutableArray<RigProblem>.Builder problems, Rig rig)
    {
        if (rig.Cables.IsDefault)
        {
            problems.Add(new("cables", "There is no list of cables.", "a list, empty for none"));
            return;
        }

        if (rig.Cables.Length > RigLimits.Cables)
        {
            problems.Add(new("cables", $"There are {rig.Cables.Length} cables.", $"at most {RigLimits.Cables}"));
        }

        RigRules.CheckUnique(problems, "cables", [.. rig.Cables.Select(c => (c.Id.Value, c.Name))]);
        for (var c = 0; c < rig.Cables.Length; c++)
        {
            CheckCable(problems, $"cables[{c}]", rig.Cables[c], rig);
        }
    }

    internal static void CheckInput(ImmutableArray<RigProblem>.Builder problems, string where, CableInput input, Rig rig)
    {
        if (rig.Find(input.Cable) is not { } cable)
        {
            problems.Add(new($"{where}.cable", "There is no such cable.", "a cable of the show") { IsReference = true });
            return;
        }

        if (!IsIn(cable, input.Left) || (input.Right is { } right && (!IsIn(cable, right) || right == input.Left)))
        {
            problems.Add(new($"{where}.left", "These channels cannot be picked.", $"one or two different channels from 0 to {cable.Channels - 1}"));
        }
    }

    private static void CheckCable(ImmutableArray<RigProblem>.Builder problems, string where, Cable cable, Rig rig)
    {
        RigRules.AddIfAny(problems, RigRules.CheckId($"{where}.id", cable.Id.Value));
        RigRules.AddIfAny(problems, RigRules.CheckName($"{where}.name", cable.Name));
        if (cable.Channels is < 1 or > RigLimits.CableChannels)
        {
            problems.Add(new($"{where}.channels", $"A cable of {cable.Channels} channels is not possible.", $"a whole number from 1 to {RigLimits.CableChannels}"));
        }

        if (cable.BufferFrames is < 0 or > RigLimits.BufferFrames)
        {
            problems.Add(new($"{where}.bufferFrames", $"A buffer of {cable.BufferFrames} frames is not possible.", $"a whole number from 0 to {RigLimits.BufferFrames}"));
        }

        if (cable.Feeds.IsDefault || cable.Feeds.Length > RigLimits.Feeds)
        {
            problems.Add(new($"{where}.feeds", "This list cannot be used.", $"at most {RigLimits.Feeds} things that play into the cable"));
            return;
        }

        var seen = new HashSet<Point>();
        for (var f = 0; f < cable.Feeds.Length; f++)
        {
            CheckFeed(problems, $"{where}.feeds[{f}]", cable, cable.Feeds[f], rig, seen);
        }
    }

    private static void CheckFeed(ImmutableArray<RigProblem>.Builder problems, string where, Cable cable, CableFeed? feed, Rig rig, HashSet<Point> seen)
    {
        if (feed?.From is null || feed.Into is null)
        {
            problems.Add(new(where, "Something is missing.", "what plays, in from, and where, in into"));
            return;
        }

        if (feed.From is not (SourcePoint { Tap: not Tap.Raw } or MixPoint { Tap: not Tap.Raw } or CablePoint) || !rig.Has(feed.From))
        {
            problems.Add(new($"{where}.from", "There is nothing of that id that could play.", "one source, one mix or one cable of the show") { IsReference = true });
        }
        else if (!seen.Add(feed.From))
        {
            problems.Add(new($"{where}.from", "This plays into the cable already.", "each thing once"));
        }

        RigRules.AddIfAny(problems, RigRules.CheckGain($"{where}.gain", feed.Gain));
        var (left, right) = feed.Into;
        if (!IsIn(cable, left) || (right is { } other2 && (!IsIn(cable, other2) || other2 == left || feed.From is CablePoint)))
        {
            problems.Add(new(
                $"{where}.into",
                "These channels cannot be filled.",
                feed.From is not CablePoint ? $"one or two different channels from 0 to {cable.Channels - 1}" : $"the first channel, from 0 to {cable.Channels - 1}, alone"));
        }
    }

    private static bool IsIn(Cable cable, int channel) => channel >= 0 && channel < cable.Channels;
}
