using System.Collections.Immutable;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

/// <summary>
/// What makes valid what a rig says of the computer around it: sources that take from devices and programs, destinations, wishes. Whether the
/// computer has what they name is no question of a rig: the show waits for what is missing.
/// </summary>
public static class GearRules
{
    internal static void Check(ImmutableArray<RigProblem>.Builder problems, Rig rig)
    {
        for (var m = 0; m < rig.Mixes.Length; m++)
        {
            CheckDestinations(problems, $"mixes[{m}].destinations", rig.Mixes[m].Destinations);
        }

        CheckWishes(problems, rig);
    }

    internal static void CheckInput(ImmutableArray<RigProblem>.Builder problems, string where, SourceInput input)
    {
        switch (input)
        {
            case DeviceInput device:
                RigRules.AddIfAny(problems, RigRules.CheckId($"{where}.device", device.Device.Value));
                CheckChannels(problems, $"{where}.left", device.Left, device.Right);
                break;
            case AppInput app:
                RigRules.AddIfAny(problems, RigRules.CheckId($"{where}.app", app.App.Value));
                RigRules.AddIfAny(problems, app.Port is null ? null : RigRules.CheckId($"{where}.port", app.Port));
                break;
        }
    }

    /// <summary>What is wrong with what a port is set to; empty where nothing is. Whether the end is there is another question.</summary>
    public static ImmutableArray<RigProblem> CheckChoice(string where, EndChoice? choice)
    {
        var problems = ImmutableArray.CreateBuilder<RigProblem>();
        switch (choice)
        {
            case null:
                problems.Add(new(where, "Something is missing.", "the default, nothing, or a device or cable"));
                break;
            case ChosenEnd { End: not (DevicePoint or CablePoint) }:
                problems.Add(new($"{where}.end", "Nothing can play there or be taken from there.", "device/ID/in, device/ID/out or cable/ID"));
                break;
            case ChosenEnd { Channels: { } channels }:
                CheckChannels(problems, $"{where}.channels", channels.Left, channels.Right);
                break;
        }

        return problems.ToImmutable();
    }

    private static void CheckDestinations(ImmutableArray<RigProblem>.Builder problems, string where, ImmutableArray<Destination> destinations)
    {
        if (destinations.IsDefault || destinations.Length > RigLimits.Destinations)
        {
            problems.Add(new(where, "This list cannot be used.", $"at most {RigLimits.Destinations} destinations"));
            return;
        }

        var seen = new HashSet<DestinationId>();
        for (var d = 0; d < destinations.Length; d++)
        {
            var (at, destination) = ($"{where}[{d}]", destinations[d]);
            if (destination?.End is null || destination.Into is null)
            {
                problems.Add(new(at, "Something is missing.", "where it goes, in end, and which channels, in into"));
                continue;
            }

            RigRules.AddIfAny(problems, RigRules.CheckId($"{at}.id", destination.Id.Value));
            if (!seen.Add(destination.Id))
            {
                problems.Add(new($"{at}.id", "This id is taken.", "an id that no other destination of the mix has"));
            }

            if (destinations.Take(d).Any(o => o?.End == destination.End && o.Into == destination.Into))
            {
                problems.Add(new($"{at}.end", "The mix goes there already.", "each device's channels once"));
            }

            RigRules.AddIfAny(problems, RigRules.CheckGain($"{at}.gain", destination.Gain));
            CheckChannels(problems, $"{at}.into", destination.Into.Left, destination.Into.Right);
            switch (destination.End)
            {
                case DeviceOutput device:
                    RigRules.AddIfAny(problems, RigRules.CheckId($"{at}.end.device", device.Device.Value));
                    break;
                case BrowserOutput browser:
                    RigRules.CheckBrowser(problems, $"{at}.end", browser.Client, browser.Device, browser.Label);
                    break;
            }
        }
    }

    private static void CheckWishes(ImmutableArray<RigProblem>.Builder problems, Rig rig)
    {
        var wishes = rig.Wishes;
        if (wishes is null || wishes.Roles.IsDefault || wishes.Ports.IsDefault || wishes.Ports.Length > RigLimits.PortWishes)
        {
            problems.Add(new("wishes", "These wishes cannot be used.", $"a list of roles and a list of at most {RigLimits.PortWishes} ports"));
            return;
        }

        for (var r = 0; r < wishes.Roles.Length; r++)
        {
            var (where, wish) = ($"wishes.roles[{r}]", wishes.Roles[r]);
            if (!Enum.IsDefined(wish.Role) || wishes.Roles.Take(r).Any(o => o.Role == wish.Role))
            {
                problems.Add(new($"{where}.role", "This role is not there, or was named already.", $"each once: {string.Join(", ", Enum.GetNames<Role>())}"));
            }

            CheckEnd(problems, $"{where}.end", wish.End, rig);
        }

        for (var p = 0; p < wishes.Ports.Length; p++)
        {
            var (where, wish) = ($"wishes.ports[{p}]", wishes.Ports[p]);
            RigRules.AddIfAny(problems, RigRules.CheckId($"{where}.app", wish.App.Value));
            RigRules.AddIfAny(problems, RigRules.CheckId($"{where}.port", wish.Port));
            if (wishes.Ports.Take(p).Any(o => o.App == wish.App && o.Port == wish.Port))
            {
                problems.Add(new(where, "This port was named already.", "each once"));
            }

            problems.AddRange(CheckChoice($"{where}.choice", wish.Choice));
            if (wish.Choice is ChosenEnd chosen)
            {
                CheckEnd(problems, $"{where}.choice.end", chosen.End, rig);
            }
        }
    }

    // Devices may be missing for a while; cables are the show's own.
    private static void CheckEnd(ImmutableArray<RigProblem>.Builder problems, string where, Point? end, Rig rig)
    {
        if (end is not DevicePoint && !(end is CablePoint cable && rig.Find(cable.Id) is not null))
        {
            problems.Add(new(where, "There is no such device or cable.", "device/ID/in, device/ID/out, or cable/ID of a cable of the show") { IsReference = true });
        }
    }

    private static void CheckChannels(ImmutableArray<RigProblem>.Builder problems, string where, int left, int? right)
    {
        if (left is < 0 or >= RigLimits.DeviceChannels || right is < 0 or >= RigLimits.DeviceChannels || left == right)
        {
            problems.Add(new(where, "These channels cannot be picked.", $"one or two different channels from 0 to {RigLimits.DeviceChannels - 1}"));
        }
    }
}
