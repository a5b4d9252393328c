using System.Text.Encodings.Web;
using System.Text.Json;
using Kinetra.Core.Editing;
using Kinetra.Gear;

namespace Kinetra.Bench;

/// <summary>The schema of show files, and the demo shows as examples.</summary>
static class ShowFiles
{
    public static void Write(string folder)
    {
        var options = new JsonSerializerOptions { WriteIndented = true, Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping };
        File.WriteAllText(Path.Combine(folder, "show.schema.json"), ShowFileSchema.Node.ToJsonString(options) + "\n");
        Directory.CreateDirectory(Path.Combine(folder, "examples"));
        foreach (var (name, rig) in DemoShows.All)
        {
            File.WriteAllText(Path.Combine(folder, "examples", $"{name.ToLowerInvariant().Replace(' ', '-')}.show.json"), new ShowFile(name, rig).Write());
        }
    }
}
