namespace Kinetra.Core.Rigs;

/// <summary>How much of everything a show may have.</summary>
public static class RigLimits
{
    /// <summary>What no sound here exceeds, dBFS.</summary>
    public const double HighestPeak = 60;

    /// <summary>The most sources.</summary>
    public const int Sources = 64;

    /// <summary>The most mixes.</summary>
    public const int Mixes = 16;

    /// <summary>The most cables.</summary>
    public const int Cables = 16;

    /// <summary>The most channels of a cable.</summary>
    public const int CableChannels = 16;

    /// <summary>The longest buffer of a cable, frames.</summary>
    public const int BufferFrames = 4_096;

    /// <summary>The most that plays into one cable.</summary>
    public const int Feeds = 32;

    /// <summary>The most destinations of one mix, beside cables.</summary>
    public const int Destinations = 8;

    /// <summary>The most wishes of programs' choices.</summary>
    public const int PortWishes = 256;

    /// <summary>The most promises.</summary>
    public const int Promises = 64;

    /// <summary>The most sets of pads, and the most pads of one set and of all.</summary>
    public const int PadSets = 32, PadsOfSet = 100, Pads = 500;

    /// <summary>The longest pad, ms: a quarter of an hour. The shortest, ms.</summary>
    public const double LongestPad = 900_000, ShortestPad = 20;

    /// <summary>The most cues, and the most that one does.</summary>
    public const int Cues = 300, CueActs = 16, CueLevels = 512;

    /// <summary>The longest notes of a cue, in characters.</summary>
    public const int CueNotes = 1_000;

    /// <summary>The longest wait and the longest fade of a cue, ms.</summary>
    public const double CueWait = 3_600_000, CueFade = 600_000;

    /// <summary>The most planned tracks, and the longest name of a file, in characters.</summary>
    public const int Tracks = 128, FileNameLength = 60;

    /// <summary>The most streams to servers.</summary>
    public const int Streams = 16;

    /// <summary>The longest fade of a pad, ms.</summary>
    public const double PadFade = 30_000;

    /// <summary>By how much a pad makes all else quieter at most, dB.</summary>
    public const double PadDim = 60;

    /// <summary>The most findings that are accepted.</summary>
    public const int Accepted = 256;

    /// <summary>The longest key of a finding, and the longest that is said of it, in characters.</summary>
    public const int FindingKey = 400, FindingFacts = 2_000;

    /// <summary>By how much speech can be promised to be louder than what lies under it, at most, LU.</summary>
    public const double MostOver = 40;

    /// <summary>The least loudness and the least true peak that can be promised, LUFS and dBTP.</summary>
    public const double LeastLoudness = -60, LeastCeiling = -20;

    /// <summary>How late a picture can be, and how far from it a sound, ms.</summary>
    public const double LatestPicture = 4_000, LeastWithin = 1, MostWithin = 500;

    /// <summary>The most channels of a device.</summary>
    public const int DeviceChannels = 16;

    /// <summary>The longest that a source is held back, ms.</summary>
    public const double SyncDelay = 2_000;

    /// <summary>The most processors in one chain.</summary>
    public const int Processors = 16;

    /// <summary>The most keys of one processor.</summary>
    public const int Keys = 8;

    /// <summary>The most channels of a browser's input that can be picked from.</summary>
    public const int InputChannels = 8;

    /// <summary>The longest name, in characters.</summary>
    public const int NameLength = 60;

    /// <summary>The longest name of a browser, id and label of its input, in characters.</summary>
    public const int ClientLength = 64, DeviceLength = 128, LabelLength = 200;

    /// <summary>The quietest and loudest target of a mix, LUFS.</summary>
    public const double MinTarget = -40, MaxTarget = -6;
}
