using System.Globalization;
using Kinetra.Core.Editing;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Hands;

/// <summary>What an action is told beside its address.</summary>
/// <param name="On">On or off; null: not said.</param>
/// <param name="Number">A number, or −∞; null: none.</param>
/// <param name="Level">With what is held or pressed: how loud, dB, −60 to 0.</param>
public readonly record struct ActionInput(bool? On = null, double? Number = null, double Level = 0)
{
    /// <summary>Reads what was written: <c>on</c>, <c>off</c>, <c>toggle</c>, a number, or nothing.</summary>
    /// <param name="type">The action that it is for.</param>
    /// <param name="text">What was written; null or empty: nothing.</param>
    /// <param name="input">What it means; null: this action is not done for it (a button that was let go).</param>
    /// <returns>What is wrong; null: nothing.</returns>
    public static RigProblem? Read(ActionType type, string? text, out ActionInput? input)
    {
        ArgumentNullException.ThrowIfNull(type);
        var word = text?.Trim() ?? "";
        if (word.Equals("off", StringComparison.OrdinalIgnoreCase) && type.Value == ActionValue.Decibels)
        {
            input = new(Number: double.NegativeInfinity);
            return null;
        }

        ActionInput? read = word.ToUpperInvariant() switch
        {
            "" or "TOGGLE" => new ActionInput(),
            "ON" or "TRUE" => new ActionInput(On: true),
            "OFF" or "FALSE" => new ActionInput(On: false),
            _ => double.TryParse(word.Replace('−', '-'), NumberStyles.Float, CultureInfo.InvariantCulture, out var number) && double.IsFinite(number) ? new ActionInput(Number: number) : null,
        };
        input = read;
        return read is null ? Wrong(type, word) : Fit(type, read.Value, out input);
    }

    /// <summary>Fits what was told to what an action takes.</summary>
    /// <param name="type">The action that it is for.</param>
    /// <param name="given">What was told.</param>
    /// <param name="input">What it means for this action; null: it is not done for it.</param>
    /// <returns>What is wrong; null: nothing.</returns>
    public static RigProblem? Fit(ActionType type, ActionInput given, out ActionInput? input)
    {
        ArgumentNullException.ThrowIfNull(type);
        if (given.Level is not (>= -60 and <= 0))
        {
            input = null;
            return new RigProblem("level", "This is no level of a press.", "−60 to 0 dB");
        }

        switch (type.Value)
        {
            // A button tells 1 and 0; of what is simply done, letting go is not a second time.
            case ActionValue.None:
                input = given.On ?? given.Number is not < 0.5 ? given with { On = null, Number = null } : null;
                return null;
            case ActionValue.Switch or ActionValue.Held:
                input = given with { On = given.On ?? (given.Number is { } n ? n >= 0.5 : null), Number = null };
                return null;
            case ActionValue.Decibels when given is { On: null, Number: { } gain } && new Gain(gain).IsAllowed:
            case ActionValue.Step when given is { On: null, Number: >= -60 and <= 60 }:
                input = given;
                return null;
            default:
                input = null;
                return Wrong(type, given.Number?.ToString(CultureInfo.InvariantCulture) ?? (given.On is { } on ? on ? "on" : "off" : ""));
        }
    }

    /// <summary>What an action takes, in words.</summary>
    public static string Allowed(ActionValue value) => value switch
    {
        ActionValue.None => "nothing, or 1",
        ActionValue.Switch => "on, off, or nothing for the other of both",
        ActionValue.Held => "on while it is held and off when it is let go, or nothing for one press",
        ActionValue.Decibels => Gain.Allowed,
        _ => "a number of dB from -60 to 60",
    };

    private static RigProblem Wrong(ActionType type, string word) =>
        new("value", word.Length == 0 ? "It is not said which value." : $"“{Names.Cut(word, 40)}” is no value of this action.", Allowed(type.Value));
}
