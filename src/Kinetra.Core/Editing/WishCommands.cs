using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

/// <summary>Says what the show wants a default to be.</summary>
/// <param name="Role">Which default.</param>
/// <param name="End">A device or a cable; null: it does not matter.</param>
public sealed record WishRole(Role Role, Point? End = null) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => [$"wishes/role/{Role}"];

    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<LevelEdit>? Levels => [];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        var old = rig.Wishes.Find(Role);
        var others = old is null ? rig.Wishes.Roles : rig.Wishes.Roles.Remove(old);
        var next = rig with { Wishes = rig.Wishes with { Roles = End is null ? others : others.Add(new RoleWish(Role, End)) } };
        return new CommandResult.Applied(
            next,
            new WishRole(Role, old?.End),
            End is null ? $"Which default {Sentences.Words(Role)} is no longer matters" : $"This show wants another default for {Sentences.Words(Role)}",
            old?.End == End);
    }
}

/// <summary>Says what the show wants a program's output or input to be set to.</summary>
/// <param name="App">The program.</param>
/// <param name="Port">Which of its outputs and inputs.</param>
/// <param name="Choice">What it should be set to; null: it does not matter.</param>
public sealed record WishPort(AppId App, string Port, EndChoice? Choice = null) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => [$"wishes/port/{App}/{Port}"];

    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<LevelEdit>? Levels => [];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        var old = rig.Wishes.Find(App, Port);
        var others = old is null ? rig.Wishes.Ports : rig.Wishes.Ports.Remove(old);
        var next = rig with { Wishes = rig.Wishes with { Ports = Choice is null ? others : others.Add(new PortWish(App, Port, Choice)) } };
        return new CommandResult.Applied(
            next,
            new WishPort(App, Port, old?.Choice),
            Choice is null ? "What a program is set to no longer matters" : "This show wants a program set otherwise",
            old?.Choice == Choice);
    }
}

/// <summary>Says when the show's wishes are fulfilled. What is null stays as it is.</summary>
/// <param name="Always">Without asking.</param>
/// <param name="PutBack">What stood before is put back when the show is left.</param>
public sealed record SetWishes(bool? Always = null, bool? PutBack = null) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => TargetKeys.Of("wishes", (Always is not null, "always"), (PutBack is not null, "putBack"));

    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<LevelEdit>? Levels => [];

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        var (old, next) = (rig.Wishes, rig.Wishes with { Always = Always ?? rig.Wishes.Always, PutBack = PutBack ?? rig.Wishes.PutBack });
        var parts = new List<string>();
        if (old.Always != next.Always)
        {
            parts.Add(next.Always ? "The computer is always set as this show wants it" : "The computer is set as this show wants it only on request");
        }

        if (old.PutBack != next.PutBack)
        {
            parts.Add(next.PutBack ? "After the show, what stood before is put back" : "After the show, the computer stays as it is");
        }

        return new CommandResult.Applied(
            rig with { Wishes = next },
            new SetWishes(Always is null ? null : old.Always, PutBack is null ? null : old.PutBack),
            parts.Count == 0 ? "The show's wishes unchanged" : string.Join("; ", parts),
            parts.Count == 0);
    }
}

/// <summary>Wishes for something that goes.</summary>
static class WishesOf
{
    /// <summary>The rig without wishes for an end, and what makes of the command that brings it back one that brings the wishes back too.</summary>
    public static (Rig Rig, Func<RigCommand, RigCommand> Back) Nobody(Rig rig, Point end)
    {
        var roles = rig.Wishes.Roles.Where(r => r.End == end).ToList();
        var ports = rig.Wishes.Ports.Where(p => p.Choice is ChosenEnd chosen && chosen.End == end).ToList();
        if (roles.Count + ports.Count == 0)
        {
            return (rig, command => command);
        }

        var left = rig.Wishes with { Roles = rig.Wishes.Roles.RemoveRange(roles), Ports = rig.Wishes.Ports.RemoveRange(ports) };
        return (
            rig with { Wishes = left },
            command => new Several([command, .. roles.Select(r => new WishRole(r.Role, r.End)), .. ports.Select(p => new WishPort(p.App, p.Port, p.Choice))]));
    }
}
