using System.Collections.Immutable;
using System.Text;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Hands;

/// <summary>Something that an address can name.</summary>
/// <param name="Id">Its id, which counts before any name.</param>
/// <param name="Name">What people call it.</param>
public sealed record Addressed(string Id, string Name)
{
    /// <summary>The name as it stands in an address: small letters and digits, with one hyphen for whatever lies between them. Empty where there are none.</summary>
    public string Slug { get; } = SlugOf(Name);

    /// <summary>The same of any text.</summary>
    public static string SlugOf(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        var slug = new StringBuilder();
        foreach (var rune in text.Normalize().EnumerateRunes())
        {
            if (Rune.IsLetterOrDigit(rune))
            {
                slug.Append(Rune.ToLowerInvariant(rune).ToString());
            }
            else if (slug.Length > 0 && slug[^1] != '-')
            {
                slug.Append('-');
            }
        }

        return slug.ToString().TrimEnd('-');
    }
}

/// <summary>What there is that an address can name.</summary>
public sealed record ActionScope
{
    private readonly ImmutableDictionary<ActionTarget, ImmutableArray<Addressed>> _things;

    private ActionScope(ImmutableDictionary<ActionTarget, ImmutableArray<Addressed>> things) => _things = things;

    /// <summary>What a show and the computer around it have.</summary>
    /// <param name="rig">The show.</param>
    /// <param name="atHand">The set of pads that is at hand: of pads with one name, its own is meant.</param>
    /// <param name="gear">The computer.</param>
    /// <param name="shows">All shows, by id and name.</param>
    public static ActionScope Of(Rig rig, PadSetId? atHand, GearState gear, IEnumerable<Addressed> shows)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(gear);
        return new(new Dictionary<ActionTarget, ImmutableArray<Addressed>>
        {
            // Those at hand first: they are found first.
            [ActionTarget.Pad] = [.. rig.PadSets.OrderBy(s => s.Id != atHand).SelectMany(s => s.Pads).Select(p => new Addressed(p.Id.Value, p.Name))],
            [ActionTarget.Set] = [.. rig.PadSets.Select(s => new Addressed(s.Id.Value, s.Name))],
            [ActionTarget.Cue] = [.. rig.Cues.Select(c => new Addressed(c.Id.Value, c.Name))],
            [ActionTarget.Mix] = [.. rig.Mixes.Select(m => new Addressed(m.Id.Value, m.Name))],
            [ActionTarget.Source] = [.. rig.Sources.Select(s => new Addressed(s.Id.Value, s.Name))],
            [ActionTarget.App] = [.. gear.Apps.Select(a => new Addressed(a.Id.Value, a.Name))],
            [ActionTarget.Show] = [.. shows],
        }.ToImmutableDictionary())
        {
            FirstOfEqual = atHand is { } set && rig.PadSets.FirstOrDefault(s => s.Id == set) is { } near ? [.. near.Pads.Select(p => p.Id.Value)] : [],
        };
    }

    /// <summary>Pads that are meant where another has the same name.</summary>
    private ImmutableHashSet<string> FirstOfEqual { get; init; } = [];

    /// <summary>All of one kind.</summary>
    public ImmutableArray<Addressed> Of(ActionTarget target) => _things.GetValueOrDefault(target, []);

    /// <summary>Those that a part of an address names: by id, or by name.</summary>
    /// <returns>None, one, or several of one name.</returns>
    public ImmutableArray<Addressed> Find(ActionTarget target, string part)
    {
        var all = Of(target);
        if (all.FirstOrDefault(t => t.Id == part) is { } exact)
        {
            return [exact];
        }

        var slug = Addressed.SlugOf(part);
        var named = slug.Length == 0 ? [] : all.Where(t => t.Slug == slug).ToImmutableArray();
        return named.Length > 1 && named.Where(t => FirstOfEqual.Contains(t.Id)).ToImmutableArray() is [var near] ? [near] : named;
    }
}
