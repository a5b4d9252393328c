using System.Text;
using System.Text.Json;
using Kinetra.Core.Hands;
using Kinetra.Server.Hosting;

namespace Kinetra.Server.Features.Hands;

/// <summary>The table of actions, written for the page and for people.</summary>
public static class ActionWords
{
    /// <summary>Said on the command line, the table is printed as a TypeScript module, or as the table of docs/control.md.</summary>
    public const string TypeScriptVerb = "actions-typescript", MarkdownVerb = "actions-markdown";

    /// <summary>Between these lines of docs/control.md stands the table.</summary>
    public const string Begin = "<!-- the table of actions: written by ./kinetra curves -->", End = "<!-- its end -->";

    /// <summary>A TypeScript module.</summary>
    public static string TypeScript()
    {
        var json = new JsonSerializerOptions(JsonSerializerDefaults.Web) { WriteIndented = false };
        AnswerJson.Configure(json);
        var text = new StringBuilder("// Written by the build from the server's table of actions. What is changed here is lost.\n\nexport const actions = [\n");
        foreach (var action in ActionTable.All)
        {
            text.Append("  ").Append(JsonSerializer.Serialize(action, json)).Append(",\n");
        }

        return text.Append("] as const;\n").ToString();
    }

    /// <summary>Writes the table into a document, between its marks.</summary>
    /// <returns>0, or 1 where the document has no such marks.</returns>
    public static int WriteInto(string file)
    {
        var text = File.ReadAllText(file);
        var (begin, end) = (text.IndexOf(Begin, StringComparison.Ordinal), text.IndexOf(End, StringComparison.Ordinal));
        if (begin < 0 || end < begin)
        {
            return 1;
        }

        File.WriteAllText(file, text[..(begin + Begin.Length)] + "\n\n" + Markdown() + "\n" + text[end..]);
        return 0;
    }

    /// <summary>A table in Markdown.</summary>
    public static string Markdown()
    {
        var text = new StringBuilder("| Address | What it does | Value | Key |\n|---|---|---|---|\n");
        foreach (var action in ActionTable.All)
        {
            var where = action.Place == ActionPlace.Window ? "; in the window only" : "";
            text.Append($"| `{action.Address}` | {action.Words}{where} | {ActionInput.Allowed(action.Value)} | {string.Join(", ", action.Keys.Select(k => $"`{k}`"))} |\n");
        }

        return text.ToString();
    }
}
