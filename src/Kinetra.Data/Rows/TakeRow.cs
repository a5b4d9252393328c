using Kinetra.Core.Takes;

namespace Kinetra.Data.Rows;

/// <summary>What has become of a take.</summary>
public enum TakeState
{
    /// <summary>It is being recorded.</summary>
    Recording,

    /// <summary>It was ended by a person.</summary>
    Done,

    /// <summary>It ended by itself: the server or the disk gave out. Its files open up to where they got.</summary>
    Interrupted,
}

/// <summary>One recording of a show: several tracks that share one zero.</summary>
public sealed class TakeRow
{
    /// <summary>Its identity, and the name of its folder.</summary>
    public required Guid Id { get; set; }

    /// <summary>The show that was recorded.</summary>
    public required Guid ShowId { get; set; }

    /// <summary>1–60 characters.</summary>
    public required string Name { get; set; }

    /// <summary>When its first frame was.</summary>
    public required DateTimeOffset StartedAt { get; set; }

    /// <summary>Length at 48 kHz; 0 while it is being recorded.</summary>
    public long Frames { get; set; }

    /// <summary>What has become of it.</summary>
    public TakeState State { get; set; }

    /// <summary>Why it ended, where that was not a person's wish.</summary>
    public string? EndedBecause { get; set; }

    /// <summary>The moments that were marked, in order.</summary>
    public List<TakeMark> Marks
    {
        get;

        // As with gaps.
        set => field = [.. value?.OfType<TakeMark>() ?? []];
    } = [];

    /// <summary>What a person has noted of it, at most 4 000 characters; may be empty.</summary>
    public string Notes
    {
        get;

        // A note that somebody has changed may say that there is none.
        set => field = value ?? "";
    } = "";

    /// <summary>The first frame that is kept; the files stay whole.</summary>
    public long From { get; set; }

    /// <summary>The frame behind the last one that is kept; null: its end.</summary>
    public long? To { get; set; }

    /// <summary>When it was deleted, and can be brought back since; null: it was not.</summary>
    public DateTimeOffset? DeletedAt { get; set; }

    /// <summary>Where it was written a second time, and what became of that; null: nowhere.</summary>
    public TakeCopy? Copy
    {
        get;

        // As with gaps.
        set => field = value is { Folder.Length: > 0 } ? value : null;
    }

    /// <summary>What was found out when its files were read last; null: they were not.</summary>
    public TakeVerdict? Verdict { get; set; }

    /// <summary>Its tracks, in order.</summary>
    public List<TrackRow> Tracks { get; set; } = [];
}

/// <summary>A take as it was written a second time, in a folder that is perhaps on another disk.</summary>
/// <param name="Folder">Where.</param>
/// <param name="IsUsed">True: what is here is the take, since its own folder took no more.</param>
/// <param name="Words">What became of one of both; null: they are alike.</param>
public sealed record TakeCopy(string Folder, bool IsUsed = false, string? Words = null);

/// <summary>One track of a take: one file.</summary>
public sealed class TrackRow
{
    /// <summary>Its identity.</summary>
    public required Guid Id { get; set; }

    /// <summary>The take.</summary>
    public Guid TakeId { get; set; }

    /// <summary>Its place among the take's tracks, from 1.</summary>
    public required int Ordinal { get; set; }

    /// <summary>The name of what it recorded.</summary>
    public required string Name { get; set; }

    /// <summary>True: a mix. False: anything else.</summary>
    public required bool IsMix { get; set; }

    /// <summary>True: somebody should be heard on it.</summary>
    public bool IsVoice { get; set; }

    /// <summary>What it recorded, as a point is written; null in takes from before that was kept.</summary>
    public string? Point { get; set; }

    /// <summary>1 or 2.</summary>
    public required int Channels { get; set; }

    /// <summary>What its file is written as, as <see cref="Core.Rigs.TakeForm"/> has it.</summary>
    public string Form { get; set; } = nameof(Core.Rigs.TakeForm.Wav24);

    /// <summary>The file's name within the take's folder.</summary>
    public required string FileName { get; set; }

    /// <summary>Samples that lay beyond full scale.</summary>
    public long Clipped { get; set; }

    /// <summary>Frames that are missing, and silent in the file, since the disk was too slow.</summary>
    public long LostFrames { get; set; }

    /// <summary>When what it recorded was away, and silent in the file, in order.</summary>
    public List<TrackGap> Gaps
    {
        get;

        // A note that somebody has changed may say that there is no list, or have nothing in it.
        set => field = [.. value?.OfType<TrackGap>() ?? []];
    } = [];
}

/// <summary>A time in which what a track recorded was away.</summary>
/// <param name="Start">From which frame of the take on.</param>
/// <param name="Frames">For how long, frames at 48 kHz.</param>
/// <param name="Words">Why, in words.</param>
public sealed record TrackGap(long Start, long Frames, string Words);

/// <summary>A moment of a take that somebody, a cue, or the program itself has marked.</summary>
/// <param name="Frame">Which frame of the take, at 48 kHz.</param>
/// <param name="Words">At most 60 characters; may be empty.</param>
/// <param name="ByProgram">True: nobody asked for it; something happened that a person should look at.</param>
public sealed record TakeMark(long Frame, string Words, bool ByProgram = false);

/// <summary>One setting of the installation.</summary>
public sealed class SettingRow
{
    /// <summary>Its name.</summary>
    public required string Key { get; set; }

    /// <summary>Its value.</summary>
    public required string Value { get; set; }

    /// <summary>The version of the value's form.</summary>
    public int Version { get; set; }
}
