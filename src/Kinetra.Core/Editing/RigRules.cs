using System.Collections.Immutable;
using System.Globalization;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

/// <summary>One thing that is wrong with a rig or a command.</summary>
/// <param name="Where">The field, as a path: <c>sources[2].name</c>.</param>
/// <param name="What">What is wrong, in words.</param>
/// <param name="Allowed">What would be right, in words.</param>
public sealed record RigProblem(string Where, string What, string Allowed)
{
    /// <summary>True where it names something that is not there.</summary>
    internal bool IsReference { get; init; }

    /// <inheritdoc/>
    public override string ToString() => $"{Where}: {What} Allowed: {Allowed}.";
}

/// <summary>What makes a rig valid. All rules in one place, used by commands, API and show files.</summary>
public static class RigRules
{
    internal const string SoundAllowed = "64 hexadecimal digits";

    /// <summary>Everything that is wrong with the rig; empty where it is valid.</summary>
    public static ImmutableArray<RigProblem> Check(Rig rig)
    {
        ArgumentNullException.ThrowIfNull(rig);
        var problems = ImmutableArray.CreateBuilder<RigProblem>();
        if (rig.Sources.Length > RigLimits.Sources)
        {
            problems.Add(new("sources", $"There are {rig.Sources.Length} sources.", $"at most {RigLimits.Sources}"));
        }

        if (rig.Mixes.Length > RigLimits.Mixes)
        {
            problems.Add(new("mixes", $"There are {rig.Mixes.Length} mixes.", $"at most {RigLimits.Mixes}"));
        }

        CheckUnique(problems, "sources", [.. rig.Sources.Select(s => (s.Id.Value, s.Name))]);
        CheckUnique(problems, "mixes", [.. rig.Mixes.Select(m => (m.Id.Value, m.Name))]);
        for (var i = 0; i < rig.Sources.Length; i++)
        {
            CheckSource(problems, $"sources[{i}]", rig.Sources[i], rig);
        }

        for (var i = 0; i < rig.Mixes.Length; i++)
        {
            CheckMix(problems, $"mixes[{i}]", rig.Mixes[i], rig.Sources);
        }

        CableRules.Check(problems, rig);
        GearRules.Check(problems, rig);
        ChainRules.Check(problems, rig);
        PromiseRules.Check(problems, rig);
        PadRules.Check(problems, rig);
        CueRules.Check(problems, rig);
        TrackRules.Check(problems, rig);
        StreamRules.Check(problems, rig);
        return problems.ToImmutable();
    }

    /// <summary>What is wrong with a name by itself, or null.</summary>
    public static RigProblem? CheckName(string where, string? name)
    {
        const string allowed = "1 to 60 characters, not only spaces, no control characters";
        return name switch
        {
            null or "" => new(where, "The name is empty.", allowed),
            _ when name.All(c => char.IsWhiteSpace(c) || char.GetUnicodeCategory(c) == UnicodeCategory.Format) => new(where, "The name is only spaces.", allowed),
            { Length: > RigLimits.NameLength } => new(where, $"The name has {name.Length} characters.", allowed),
            _ when name.Any(char.IsControl) => new(where, "The name holds a control character.", allowed),
            _ => null,
        };
    }

    /// <summary>What is wrong with a gain, or null.</summary>
    public static RigProblem? CheckGain(string where, Gain gain) =>
        gain.IsAllowed ? null : new(where, $"{Number(gain.Decibels)} dB is out of range.", Gain.Allowed);

    private static void CheckSource(ImmutableArray<RigProblem>.Builder problems, string where, Source source, Rig rig)
    {
        AddIfAny(problems, CheckId($"{where}.id", source.Id.Value));
        AddIfAny(problems, CheckName($"{where}.name", source.Name));
        AddIfAny(problems, CheckGain($"{where}.trim", source.Trim));
        if (source.SyncDelay is not (>= 0 and <= RigLimits.SyncDelay))
        {
            problems.Add(new($"{where}.syncDelay", $"{Number(source.SyncDelay)} ms is out of range.", $"a number from 0 to {Number(RigLimits.SyncDelay)} ms"));
        }

        if (!Enum.IsDefined(source.Kind))
        {
            problems.Add(new($"{where}.kind", "Unknown kind.", string.Join(", ", Enum.GetNames<SourceKind>())));
        }

        if (source.Look.Color is < 0 or >= SourceLook.Count || source.Look.Shape is < 0 or >= SourceLook.Count)
        {
            problems.Add(new($"{where}.look", "Unknown colour or shape.", $"whole numbers from 0 to {SourceLook.Count - 1}"));
        }

        if (source.Look.Icon is { } icon && !Enum.IsDefined(icon))
        {
            problems.Add(new($"{where}.look.icon", "Unknown icon.", string.Join(", ", Enum.GetNames<SourceIcon>())));
        }

        switch (source.Input)
        {
            case SoundFileInput file when !IsSoundAddress(file.Sound):
                problems.Add(new($"{where}.input.sound", "This is not the address of a stored sound.", SoundAllowed));
                break;
            case BrowserInput browser:
                CheckBrowser(problems, $"{where}.input", browser);
                break;
            case CableInput cable:
                CableRules.CheckInput(problems, $"{where}.input", cable, rig);
                break;
            case DeviceInput or AppInput:
                GearRules.CheckInput(problems, $"{where}.input", source.Input);
                break;
            case null:
                problems.Add(new($"{where}.input", "The source has no input.", "a device, a program, a cable, a browser's input or a sound file"));
                break;
        }
    }

    internal static void CheckBrowser(ImmutableArray<RigProblem>.Builder problems, string where, string client, string device, string label)
    {
        AddIfAny(problems, CheckText($"{where}.client", client, RigLimits.ClientLength));
        AddIfAny(problems, CheckText($"{where}.device", device, RigLimits.DeviceLength));
        AddIfAny(problems, CheckText($"{where}.label", label, RigLimits.LabelLength));
    }

    private static void CheckBrowser(ImmutableArray<RigProblem>.Builder problems, string where, BrowserInput input)
    {
        CheckBrowser(problems, where, input.Client, input.Device, input.Label);
        if (input.Left is < 0 or >= RigLimits.InputChannels || input.Right is < 0 or >= RigLimits.InputChannels || input.Left == input.Right)
        {
            problems.Add(new($"{where}.left", "These channels cannot be picked.", $"one or two different channels from 0 to {RigLimits.InputChannels - 1}"));
        }
    }

    /// <summary>What is wrong with a short text that is not a name, or null.</summary>
    public static RigProblem? CheckText(string where, string? text, int longest) =>
        text is { Length: > 0 } && text.Length <= longest && !text.Any(char.IsControl)
            ? null
            : new(where, "The text cannot be used.", $"1 to {longest} characters, no control characters");

    private static void CheckMix(ImmutableArray<RigProblem>.Builder problems, string where, Mix mix, ImmutableArray<Source> sources)
    {
        AddIfAny(problems, CheckId($"{where}.id", mix.Id.Value));
        AddIfAny(problems, CheckName($"{where}.name", mix.Name));
        AddIfAny(problems, CheckGain($"{where}.gain", mix.Gain));
        if (!Enum.IsDefined(mix.Purpose))
        {
            problems.Add(new($"{where}.purpose", "Unknown purpose.", string.Join(", ", Enum.GetNames<MixPurpose>())));
        }

        if (mix.TargetLufs is not (>= RigLimits.MinTarget and <= RigLimits.MaxTarget))
        {
            problems.Add(new($"{where}.targetLufs", $"{Number(mix.TargetLufs)} LUFS is out of range.", "a number from -40 to -6 LUFS"));
        }

        if (!mix.Sends.Select(s => s.Source).SequenceEqual(sources.Select(s => s.Id)))
        {
            problems.Add(new($"{where}.sends", "The sends do not stand for the sources.", "one send for each source, in the order of the sources"));
        }

        for (var i = 0; i < mix.Sends.Length; i++)
        {
            CheckSend(problems, $"{where}.sends[{i}]", mix.Sends[i]);
        }
    }

    internal static void CheckSend(ImmutableArray<RigProblem>.Builder problems, string where, Send send)
    {
        AddIfAny(problems, CheckGain($"{where}.gain", send.Gain));
        if (send.Pan is not (>= -1 and <= 1))
        {
            problems.Add(new($"{where}.pan", $"{Number(send.Pan)} is out of range.", "a number from -1 (left) to 1 (right)"));
        }
    }

    internal static ImmutableArray<RigProblem> Only(RigProblem? problem) => problem is null ? [] : [problem];

    internal static void CheckUnique(ImmutableArray<RigProblem>.Builder problems, string where, ImmutableArray<(string Id, string Name)> items)
    {
        var ids = new HashSet<string>(StringComparer.Ordinal);
        var names = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        for (var i = 0; i < items.Length; i++)
        {
            if (!ids.Add(items[i].Id ?? ""))
            {
                problems.Add(new($"{where}[{i}].id", "This id is taken.", "an id that nothing else in the show has"));
            }

            if (items[i].Name is { Length: > 0 } name && !names.Add(name.Trim()))
            {
                problems.Add(new($"{where}[{i}].name", $"The name “{name}” is taken.", "a name that no other has, whatever the case"));
            }
        }
    }

    internal static RigProblem? CheckId(string where, string? id) =>
        id is { Length: >= 1 and <= 40 } && id.All(c => c is (>= 'a' and <= 'z') or (>= '0' and <= '9') or '-')
            ? null
            : new(where, "The id cannot be used.", "1 to 40 characters of a–z, 0–9 and -");

    internal static bool IsSoundAddress(string? sound) => sound is { Length: 64 } && sound.All(IsHexDigit);

    private static bool IsHexDigit(char c) => c is (>= '0' and <= '9') or (>= 'a' and <= 'f');

    internal static void AddIfAny(ImmutableArray<RigProblem>.Builder problems, RigProblem? problem)
    {
        if (problem is not null)
        {
            problems.Add(problem);
        }
    }

    private static string Number(double value) => value.ToString("0.###", System.Globalization.CultureInfo.InvariantCulture);
}
