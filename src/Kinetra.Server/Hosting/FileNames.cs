namespace Kinetra.Server.Hosting;

/// <summary>What a file is called that a person saves.</summary>
static class FileNames
{
    /// <summary>A name as a file's: its letters and digits, in small letters.</summary>
    /// <param name="name">The name of what is saved.</param>
    /// <param name="ending">What comes behind it: <c>.show.json</c>.</param>
    public static string Of(string name, string ending) => string.Concat(name.Select(c => char.IsLetterOrDigit(c) ? char.ToLowerInvariant(c) : '-')).Trim('-') + ending;
}
