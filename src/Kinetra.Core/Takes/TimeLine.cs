using System.Collections.Immutable;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Takes;

/// <summary>A take as an editing program needs it: its files side by side from one zero, and its marks.</summary>
/// <param name="Name">What it is called.</param>
/// <param name="Frames">How much of it is kept, frames at 48 kHz, 0 or more.</param>
/// <param name="Tracks">Its files, in order.</param>
/// <param name="Marks">Its marks, in order of time, from where what is kept begins.</param>
/// <param name="From">Where in its files what is kept begins, frames.</param>
/// <param name="FileFrames">How long its files are; null: as what is kept.</param>
public sealed record TimeLine(string Name, long Frames, ImmutableArray<TimeLineTrack> Tracks, ImmutableArray<TimeLineMark> Marks, long From = 0, long? FileFrames = null)
{
    /// <summary>Frames of picture a second that time codes can count, none dropped.</summary>
    public static readonly ImmutableArray<int> Rates = [24, 25, 30];

    /// <summary>A time code without dropped frames, <c>HH:MM:SS:FF</c>; what lies within a frame is of its beginning.</summary>
    /// <param name="frame">A frame at 48 kHz, 0 or more.</param>
    /// <param name="rate">One of <see cref="Rates"/>.</param>
    /// <param name="firstHour">The hour that the beginning is at.</param>
    public static string TimeCode(long frame, int rate, int firstHour = 0)
    {
        return OfPictures(frame * rate / AudioFormat.SampleRate, rate, firstHour);
    }

    /// <summary>The time code of so many whole frames of picture.</summary>
    internal static string OfPictures(long pictures, int rate, int firstHour = 0)
    {
        var seconds = pictures / rate;
        return FormattableString.Invariant($"{(firstHour + (seconds / 3600)) % 24:00}:{seconds / 60 % 60:00}:{seconds % 60:00}:{pictures % rate:00}");
    }
}

/// <summary>A file of a take.</summary>
/// <param name="Name">What is on it.</param>
/// <param name="FileName">The file's name, in the same folder.</param>
/// <param name="Channels">1 or 2.</param>
public sealed record TimeLineTrack(string Name, string FileName, int Channels);

/// <summary>A mark of a take.</summary>
/// <param name="Frame">Where, at 48 kHz.</param>
/// <param name="Words">What it is; may be empty.</param>
/// <param name="ByProgram">True: nobody asked for it; something happened then.</param>
public sealed record TimeLineMark(long Frame, string Words, bool ByProgram)
{
    /// <summary>Its words; where it has none, which it is.</summary>
    /// <param name="place">Which of the marks, from 0.</param>
    public string Called(int place) => Words.Length > 0 ? Words : FormattableString.Invariant($"Mark {place + 1}");
}
