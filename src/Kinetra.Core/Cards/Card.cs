using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kinetra.Core.Findings;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Cards;

/// <summary>What is picked or set.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<PickKind>))]
public enum PickKind
{
    /// <summary>That the program runs.</summary>
    Running,

    /// <summary>Where an output plays.</summary>
    Output,

    /// <summary>What an input hears.</summary>
    Input,

    /// <summary>A default of the whole computer.</summary>
    Default,

    /// <summary>What the program does to sound by itself.</summary>
    OwnProcessing,

    /// <summary>The program's own volume.</summary>
    Fader,
}

/// <summary>How something stands against what it must be.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<PickState>))]
public enum PickState
{
    /// <summary>It is as it must be.</summary>
    Right,

    /// <summary>Both have their price: a person decides.</summary>
    Open,

    /// <summary>It is otherwise.</summary>
    Wrong,
}

/// <summary>One thing to pick or set at one place, in words: "Its input must be Out of Guest line. Now it is the default for calls."</summary>
/// <param name="Key">What it stays the same by, within its card: <c>port/mic</c>, <c>volume</c>, <c>role/Playback</c>.</param>
/// <param name="Kind">What is picked or set.</param>
/// <param name="State">Whether it is so.</param>
/// <param name="What">What it is called in a sentence: "Its input".</param>
/// <param name="Wanted">What it must be, as that program's list names it.</param>
/// <param name="Now">What it is now.</param>
/// <param name="Where">Where in such a program the choice usually stands; null: nowhere.</param>
/// <param name="Notes">What else must be known or done, each a sentence: "Restart it first: …", "No choice there: it follows the default."</param>
/// <param name="Fix">What makes it so in one press, where it can be; or, where it is right by chance only, what makes the show want it so.</param>
public sealed record Pick(string Key, PickKind Kind, PickState State, string What, string Wanted, string Now, string? Where, ImmutableArray<string> Notes, Fix? Fix);

/// <summary>All that must be picked and set in one program, or, of the computer itself, its defaults.</summary>
/// <param name="App">The program; null: the computer.</param>
/// <param name="Title">What it is called.</param>
/// <param name="Why">What it takes part by: "It hears Guest hears."</param>
/// <param name="Picks">What to pick, in the order in which a person does it.</param>
public sealed record Card(AppId? App, string Title, string Why, ImmutableArray<Pick> Picks)
{
    /// <summary>True where nothing is otherwise than it must be.</summary>
    public bool IsRight => Picks.All(p => p.State != PickState.Wrong);
}
