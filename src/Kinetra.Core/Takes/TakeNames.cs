using Kinetra.Core.Rigs;

namespace Kinetra.Core.Takes;

/// <summary>What files of a take are called.</summary>
public static class TakeNames
{
    /// <summary>A name without what file systems do not take.</summary>
    public static string SafeName(string name)
    {
        ArgumentNullException.ThrowIfNull(name);
        var safe = string.Concat(name.Select(c => char.IsControl(c) || "/\\:*?\"<>|".Contains(c, StringComparison.Ordinal) ? '-' : c)).Trim('.', ' ');
        return safe.Length == 0 ? "track" : safe;
    }

    /// <summary>The media type of a take's file, by its ending.</summary>
    public static string TypeOf(string fileName) => Path.GetExtension(fileName) switch
    {
        ".flac" => "audio/flac",
        ".mp3" => "audio/mpeg",
        ".opus" => "audio/ogg",
        ".zip" => "application/zip",
        _ => "audio/wav",
    };

    /// <summary>The ending of a file's name, with its point.</summary>
    public static string EndingOf(TakeForm form) => form switch
    {
        TakeForm.Wav24 or TakeForm.Wav16 or TakeForm.Wav32 => ".wav",
        TakeForm.Flac => ".flac",
        TakeForm.Mp3 => ".mp3",
        TakeForm.Opus => ".opus",
        _ => throw new ArgumentOutOfRangeException(nameof(form)),
    };
}
