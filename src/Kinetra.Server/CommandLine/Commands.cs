using System.CommandLine;
using System.Globalization;
using System.Text.Encodings.Web;
using System.Text.Json;
using Kinetra.Media;

namespace Kinetra.Server.CommandLine;

/// <summary>What can be done without a server: measure files, render a show.</summary>
public static class Commands
{
    /// <summary>How reports are written: nothing is left out, null says that there is none.</summary>
    internal static readonly JsonSerializerOptions Json = new()
    {
        PropertyNamingPolicy = JsonNamingPolicy.CamelCase,
        WriteIndented = true,
        Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    };

    /// <summary>True where the words begin with one of these commands.</summary>
    public static bool Knows(IReadOnlyList<string> arguments) => arguments is ["measure" or "render", ..];

    /// <summary>Runs the command.</summary>
    /// <returns>0, or another number where anything went wrong.</returns>
    public static int Run(IReadOnlyList<string> arguments, TextWriter output, TextWriter errors)
    {
        var root = new RootCommand("Measures sound files, and renders shows, with the engine that runs them.") { Measure(), Render() };
        return root.Parse(arguments).Invoke(new InvocationConfiguration { Output = output, Error = errors });
    }

    private static Command Measure()
    {
        var files = new Argument<string[]>("FILE") { Description = "Sound files of any format that is read, or addresses on this computer that give sound.", Arity = ArgumentArity.OneOrMore };
        var json = new Option<bool>("--json") { Description = "As JSON: a list with one object for each file." };
        var seconds = new Option<double>("--for")
        {
            Description = $"How many seconds are taken of an address; left out: {AddressSound.UsualSeconds}.",
            DefaultValueFactory = _ => AddressSound.UsualSeconds,
            CustomParser = result => SecondsOf(result, "--for") ?? AddressSound.UsualSeconds,
        };
        var command = new Command("measure", "Measures loudness, peaks and more of sound files.") { files, json, seconds };
        command.SetAction(parsed =>
        {
            var (output, errors) = (parsed.InvocationConfiguration.Output, parsed.InvocationConfiguration.Error);
            return MeasureCommand.Run(parsed.GetRequiredValue(files), parsed.GetValue(json), parsed.GetValue(seconds), output, errors);
        });
        return command;
    }

    private static Command Render()
    {
        var show = new Argument<string>("SHOW") { Description = "A show file (docs/show-format.md)." };
        var inputs = new Option<string[]>("--input") { Description = "SOURCE=FILE: what a source plays, by its name or id; as often as needed. Instead of a file, an address on this computer that gives sound: as many seconds of it as are rendered, or 10.", AllowMultipleArgumentsPerToken = true };
        var folder = new Option<string>("--out") { Description = "The folder that the files are written to.", Required = true };
        var format = new Option<SoundFormat>("--format") { Description = "What the files are written as.", DefaultValueFactory = _ => SoundFormat.Wav };
        var bits = new Option<string>("--bits") { Description = "WAV: 32 (float), 24 or 16 (dithered). FLAC: 24 or 16.", DefaultValueFactory = _ => "" };
        bits.AcceptOnlyFromAmong("", "32", "24", "16");
        var sources = new Option<bool>("--sources") { Description = "Writes each source after its chain, too." };
        var seconds = new Option<double?>("--seconds")
        {
            Description = "How long; left out: as long as the longest file.",
            CustomParser = result => SecondsOf(result, "--seconds"),
        };
        var cues = new Option<string?>("--cues") { Description = "When hands go on in the show's list of cues, seconds: \"0, 12.5, 30\"." };
        var sounds = new Option<string?>("--sounds") { Description = "The folder with the files that its pads were made of; they are found by their content." };
        var command = new Command("render", "Runs a show without a clock, as fast as the machine can, and writes what each listener hears.")
        {
            show, inputs, folder, format, bits, sources, seconds, cues, sounds,
        };
        command.SetAction(parsed => RenderCommand.Run(
            new RenderOrder(
                parsed.GetRequiredValue(show),
                parsed.GetValue(inputs) ?? [],
                parsed.GetRequiredValue(folder),
                parsed.GetValue(format),
                parsed.GetRequiredValue(bits),
                parsed.GetValue(sources),
                parsed.GetValue(seconds),
                parsed.GetValue(cues),
                parsed.GetValue(sounds)),
            parsed.InvocationConfiguration.Output,
            parsed.InvocationConfiguration.Error));
        return command;
    }

    // A number is understood whole or not at all: “0,5” is not 5.
    private static double? SecondsOf(System.CommandLine.Parsing.ArgumentResult result, string option)
    {
        var word = result.Tokens[^1].Value;
        if (double.TryParse(word, NumberStyles.AllowDecimalPoint | NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var number))
        {
            return number;
        }

        result.AddError($"{option}: “{word}” is not a number. Allowed: digits with a point, as 0.5.");
        return null;
    }

    /// <summary>A figure as a person reads it.</summary>
    internal static string Figure(double? value, string unit, string format = "0.0")
    {
        if (value is not { } number)
        {
            return "none";
        }

        var digits = Math.Abs(number).ToString(format, CultureInfo.InvariantCulture);
        return $"{(number < 0 && digits.Any(d => d is > '0' and <= '9') ? "−" : "")}{digits} {unit}".TrimEnd();
    }
}
