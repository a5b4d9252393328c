using System.Collections.Immutable;

namespace Kinetra.Core.Rigs;

/// <summary>What makes the cables of a rig valid, and the sources that record from them.</summary>
public static class CableRules
{
    /// <summary>The most cables a show may have.</summary>
    public const int MaxCables = 16;

    /// <summary>The most channels of a cable.</summary>
    public const int MaxChannels = 16;

    /// <summary>The longest buffer, frames.</summary>
    public const int MaxBufferFrames = 4_096;

    /// <summary>The most that plays into one cable.</summary>
    public const int MaxFeeds = 32;

    internal static void Check(ImmutableArray<RigProblem>.Builder problems, Rig rig)
    {
        if (rig.Cables.IsDefault)
        {
            problems.Add(new("cables", "There is no list of cables.", "a list, empty for none"));
            return;
        }

        if (rig.Cables.Length > MaxCables)
        {
            problems.Add(new("cables", $"There are {rig.Cables.Length} cables.", $"at most {MaxCables}"));
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
            problems.Add(new($"{where}.cable", "There is no such cable.", "a cable of the show"));
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
        if (cable.Channels is < 1 or > MaxChannels)
        {
            problems.Add(new($"{where}.channels", $"A cable of {cable.Channels} channels is not possible.", $"a whole number from 1 to {MaxChannels}"));
        }

        if (cable.BufferFrames is < 0 or > MaxBufferFrames)
        {
            problems.Add(new($"{where}.bufferFrames", $"A buffer of {cable.BufferFrames} frames is not possible.", $"a whole number from 0 to {MaxBufferFrames}"));
        }

        if (cable.Feeds.IsDefault || cable.Feeds.Length > MaxFeeds)
        {
            problems.Add(new($"{where}.feeds", "This list cannot be used.", $"at most {MaxFeeds} things that play into the cable"));
            return;
        }

        var seen = new HashSet<Origin>();
        for (var f = 0; f < cable.Feeds.Length; f++)
        {
            CheckFeed(problems, $"{where}.feeds[{f}]", cable, cable.Feeds[f], rig, seen);
        }
    }

    private static void CheckFeed(ImmutableArray<RigProblem>.Builder problems, string where, Cable cable, CableFeed? feed, Rig rig, HashSet<Origin> seen)
    {
        if (feed?.From is null || feed.Into is null)
        {
            problems.Add(new(where, "Something is missing.", "what plays, in from, and where, in into"));
            return;
        }

        var known = feed.From switch
        {
            { Source: { } source, Mix: null, Cable: null } => rig.Find(source) is not null,
            { Source: null, Mix: { } mix, Cable: null } => rig.Find(mix) is not null,
            { Source: null, Mix: null, Cable: { } other, Tap: Tap.AfterChain } => rig.Find(other) is not null,
            _ => false,
        };
        if (!known || !Enum.IsDefined(feed.From.Tap))
        {
            problems.Add(new($"{where}.from", "There is nothing of that id that could play.", "one source, one mix or one cable of the show"));
        }
        else if (!seen.Add(feed.From))
        {
            problems.Add(new($"{where}.from", "This plays into the cable already.", "each thing once"));
        }

        RigRules.AddIfAny(problems, RigRules.CheckGain($"{where}.gain", feed.Gain));
        var (left, right) = feed.Into;
        if (!IsIn(cable, left) || (right is { } other2 && (!IsIn(cable, other2) || other2 == left || feed.From.Cable is not null)))
        {
            problems.Add(new(
                $"{where}.into",
                "These channels cannot be filled.",
                feed.From.Cable is null ? $"one or two different channels from 0 to {cable.Channels - 1}" : $"the first channel, from 0 to {cable.Channels - 1}, alone"));
        }
    }

    private static bool IsIn(Cable cable, int channel) => channel >= 0 && channel < cable.Channels;
}
