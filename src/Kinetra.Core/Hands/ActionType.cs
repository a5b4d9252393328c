using System.Collections.Immutable;
using System.Text.Json.Serialization;

namespace Kinetra.Core.Hands;

/// <summary>What an action is told beside its address.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<ActionValue>))]
public enum ActionValue
{
    /// <summary>Nothing: it is done.</summary>
    None,

    /// <summary>On or off; nothing: the other of both.</summary>
    Switch,

    /// <summary>On: it is held from now; off: it is let go. Nothing: pressed, and where it is held, let go.</summary>
    Held,

    /// <summary>A gain, dB.</summary>
    Decibels,

    /// <summary>By how many dB a gain goes up, or down.</summary>
    Step,
}

/// <summary>Where an action is done.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<ActionPlace>))]
public enum ActionPlace
{
    /// <summary>In the show, whoever asks for it: a key, a controller, a message, a request.</summary>
    Show,

    /// <summary>In one window: only its own keys, controllers and palette reach it.</summary>
    Window,
}

/// <summary>What stands in an address for something of the show.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<ActionTarget>))]
public enum ActionTarget
{
    /// <summary>A pad, by its id or its name.</summary>
    Pad,

    /// <summary>A set of pads.</summary>
    Set,

    /// <summary>A cue.</summary>
    Cue,

    /// <summary>A mix.</summary>
    Mix,

    /// <summary>A source.</summary>
    Source,

    /// <summary>A show.</summary>
    Show,

    /// <summary>A program of the computer.</summary>
    App,

    /// <summary>A screen of the window.</summary>
    Screen,

    /// <summary>A place among the mixes, from 1.</summary>
    Place,
}

/// <summary>Something that can be done: by key, controller, message, request or from the palette, all by the same address.</summary>
/// <param name="Address">Words and targets in braces, apart by slashes: <c>mix/{mix}/source/{source}/level</c>.</param>
/// <param name="Words">What it does, with its targets in braces.</param>
/// <param name="Value">What it is told beside its address.</param>
/// <param name="Place">Where it is done.</param>
/// <param name="Keys">The keys that do it where nobody has chosen others, as <c>Ctrl+Shift+z</c>.</param>
public sealed record ActionType(string Address, string Words, ActionValue Value = ActionValue.None, ActionPlace Place = ActionPlace.Show, params ImmutableArray<string> Keys)
{
    /// <summary>The address in parts.</summary>
    [JsonIgnore]
    public ImmutableArray<string> Parts { get; } = [.. Address.Split('/')];

    /// <summary>What a part stands for; null: for itself.</summary>
    public static ActionTarget? TargetOf(string part)
    {
        ArgumentNullException.ThrowIfNull(part);
        return part is ['{', .. var name, '}'] ? Enum.Parse<ActionTarget>(name, ignoreCase: true) : null;
    }

    /// <summary>The targets, in the order of the address.</summary>
    [JsonIgnore]
    public IEnumerable<ActionTarget> Targets => Parts.Select(TargetOf).OfType<ActionTarget>();
}
