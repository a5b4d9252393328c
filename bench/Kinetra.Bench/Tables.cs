using System.Text.RegularExpressions;
using Kinetra.Core.Planning;
using Kinetra.Core.Processors;

namespace Kinetra.Bench;

/// <summary>The tables of the documents, off the declarations that engine, API and screen read too.</summary>
static partial class Tables
{
    /// <summary>Puts each table in its place: between «table: KEY» and «end».</summary>
    public static void Write(string document) => File.WriteAllText(
        document, Place().Replace(File.ReadAllText(document), m => $"<!-- table: {m.Groups[1].Value} -->\n{Table(m.Groups[1].Value)}<!-- end -->"));

    [GeneratedRegex("<!-- table: (\\w+) -->.*?<!-- end -->", RegexOptions.Singleline)]
    private static partial Regex Place();

    private static string Table(string key) => key == "presets"
        ? "| Preset | For a | What it does |\n|---|---|---|\n"
            + string.Concat(ChainPresets.All.Select(p => $"| {p.Name} | {p.For} | {p.Says} |\n"))
        : Parameters(ProcessorTypes.Find(key) ?? throw new ArgumentException($"There is no processor “{key}”.", nameof(key)));

    private static string Parameters(ProcessorType type) =>
        $"*For:* {type.Purpose}\n*Overdone:* {type.Overdone}\n\n| Parameter | In files | Range | Default | What it does |\n|---|---|---|---|---|\n"
        + string.Concat(type.Parameters.Select(p => $"| {p.Name} | `{p.Key}` | {Range(p)} | {p.Format(p.Default)} | {p.Meaning} |\n"));

    private static string Range(Parameter p) => p.Scale == ParameterScale.Choice ? string.Join(", ", p.Words.Select(w => $"`{w}`")) : $"{p.Format(p.Min)} … {p.Format(p.Max)}";
}
