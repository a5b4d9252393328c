using System.Collections.Immutable;
using Kinetra.Core.Editing;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Hands;

/// <summary>An action with what it is done to.</summary>
/// <param name="Type">Which action.</param>
/// <param name="Targets">What stands for its targets, in the order of the address.</param>
public sealed record ActionCall(ActionType Type, ImmutableArray<Addressed> Targets)
{
    /// <summary>The longest address, in characters.</summary>
    public const int Longest = 400;

    private const string Known = "an action of /api/actions with what the live show has now";

    /// <summary>Where a target of a kind is.</summary>
    /// <exception cref="InvalidOperationException">The action has none.</exception>
    public string Id(ActionTarget target) => Targets[Type.Targets.ToList().IndexOf(target)].Id;

    /// <summary>The source.</summary>
    public SourceId Source => new(Id(ActionTarget.Source));

    /// <summary>The mix.</summary>
    public MixId Mix => new(Id(ActionTarget.Mix));

    /// <summary>The pad.</summary>
    public PadId Pad => new(Id(ActionTarget.Pad));

    /// <summary>What it does, in words.</summary>
    public string Words => Type.Targets.Zip(Targets).Aggregate(
        Type.Words, (words, t) => words.Replace($"{{{t.First.ToString().ToLowerInvariant()}}}", t.Second.Name, StringComparison.Ordinal));

    /// <summary>Its address by ids, which stays whatever things are called.</summary>
    public string Address => With(t => t.Id);

    /// <summary>Its address by names; by the id of what has none that can stand in one.</summary>
    public string NamedAddress => With(t => t.Slug.Length > 0 ? t.Slug : t.Id);

    private string With(Func<Addressed, string> name)
    {
        var next = 0;
        return string.Join('/', Type.Parts.Select(p => ActionType.TargetOf(p) is null ? p : name(Targets[next++])));
    }

    /// <summary>Finds what an address means.</summary>
    /// <param name="scope">What there is.</param>
    /// <param name="address">The address, by ids or by names; slashes at its ends do not count.</param>
    /// <param name="problem">Why there is none.</param>
    public static ActionCall? Find(ActionScope scope, string address, out RigProblem? problem)
    {
        ArgumentNullException.ThrowIfNull(scope);
        ArgumentNullException.ThrowIfNull(address);
        problem = null;
        var parts = address.Length > Longest ? [] : address.Trim('/').Split('/');
        RigProblem? missing = null;
        foreach (var type in ActionTable.All)
        {
            if (type.Place != ActionPlace.Show || type.Parts.Length != parts.Length || !Fits(type, parts))
            {
                continue;
            }

            if (TargetsOf(scope, type, parts, out var lacks) is { } targets)
            {
                return new(type, [.. targets]);
            }

            missing ??= lacks;
        }

        problem = missing ?? new RigProblem("address", $"There is no action “{Editing.Names.Cut(address, 80)}”.", Known);
        return null;
    }

    /// <summary>All addresses that there are, by names where these are their own, for patterns.</summary>
    public static IEnumerable<ActionCall> All(ActionScope scope)
    {
        ArgumentNullException.ThrowIfNull(scope);
        return ActionTable.All.Where(t => t.Place == ActionPlace.Show).SelectMany(type => type.Targets
            .Aggregate((IEnumerable<ImmutableArray<Addressed>>)[[]], (calls, target) => calls.SelectMany(c => scope.Of(target).Select(c.Add)))
            .Select(targets => new ActionCall(type, targets)));
    }

    // A word stands for itself whatever the case; what is a word of one action may be a name in another.
    private static bool Fits(ActionType type, string[] parts) =>
        type.Parts.Zip(parts).All(p => ActionType.TargetOf(p.First) is not null || string.Equals(p.First, p.Second, StringComparison.OrdinalIgnoreCase));

    private static List<Addressed>? TargetsOf(ActionScope scope, ActionType type, string[] parts, out RigProblem? lacks)
    {
        lacks = null;
        var targets = new List<Addressed>();
        foreach (var (part, given) in type.Parts.Zip(parts))
        {
            if (ActionType.TargetOf(part) is not { } target)
            {
                continue;
            }

            var kind = target.ToString().ToLowerInvariant();
            switch (scope.Find(target, given))
            {
                case [var one]:
                    targets.Add(one);
                    break;
                case []:
                    lacks = new RigProblem(kind, $"There is no {kind} “{Editing.Names.Cut(given, 60)}”.", Examples(scope, target));
                    return null;
                case var several:
                    lacks = new RigProblem(kind, $"{several.Length} are called “{Editing.Names.Cut(given, 60)}”.", "its id: " + string.Join(", ", several.Take(4).Select(s => s.Id)));
                    return null;
            }
        }

        return targets;
    }

    private static string Examples(ActionScope scope, ActionTarget target)
    {
        var names = scope.Of(target).Select(t => t.Slug.Length > 0 ? t.Slug : t.Id).Take(8).ToList();
        return names.Count == 0 ? Known : string.Join(", ", names) + (scope.Of(target).Length > 8 ? " …" : "");
    }
}
