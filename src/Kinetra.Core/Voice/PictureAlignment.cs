namespace Kinetra.Core.Voice;

/// <summary>By how much a recording's picture comes later than its sound.</summary>
/// <param name="Milliseconds">How much later, ms; below 0: sooner.</param>
/// <param name="Within">How exact that is, ± ms: the frames of the picture say no more.</param>
/// <param name="Flashes">In how many flashes it was seen and heard.</param>
/// <param name="Refusal">Why it is not to be relied on; null: it is.</param>
public sealed record PictureAlignment(double Milliseconds, double Within, int Flashes, string? Refusal)
{
    /// <summary>The farthest that is looked for, seconds.</summary>
    public const double Farthest = 2;

    /// <summary>The fewest flashes that are relied on.</summary>
    public const int Fewest = 4;

    /// <summary>A picture with fewer frames in a second is refused.</summary>
    public const double FewestFrames = 10;

    /// <summary>
    /// Finds <see cref="FlashSignal"/> in both. In the sound by the correlation coefficient with its beep; in the picture by how every cell's brightness goes with its flashes, wherever in the picture they are.
    /// A flash counts from the first frame that has half of it: whether a camera's frame stands for its beginning or its whole exposure differs, so a quarter of a frame is taken off, and as much is left in doubt.
    /// </summary>
    /// <param name="frames">When each frame is shown, seconds, rising; 3 s at the least.</param>
    /// <param name="picture">The brightness of each frame's cells, row by row, frame by frame: as many for each.</param>
    /// <param name="sound">The sound from second 0 on, at 48 kHz.</param>
    /// <exception cref="ArgumentException">The picture does not fit the frames.</exception>
    public static PictureAlignment OfFlashes(ReadOnlySpan<double> frames, ReadOnlySpan<byte> picture, ReadOnlySpan<float> sound)
    {
        if (frames.IsEmpty || picture.IsEmpty || picture.Length % frames.Length != 0)
        {
            throw new ArgumentException("Each frame has as many cells.", nameof(picture));
        }

        var interval = Peaks.Median(Gaps(frames));
        if (frames.Length < 2 || !(interval <= 1 / FewestFrames))
        {
            return Refused($"The picture has fewer than {FewestFrames} frames in a second: that says too little.");
        }

        if (HeardFlashes.In(sound) is not { } heard)
        {
            return Refused("The beeps were not heard in the file’s sound. Play them on speakers, loud enough for the microphone, and record it with the picture.");
        }

        if (SeenFlashes.In(frames, picture) is not { } seen)
        {
            return Refused("The flashes were not seen in the picture. Let the camera see more of the flashing window, and nothing else that blinks.");
        }

        var apart = seen.Shift - heard.Shift;
        apart -= FlashSignal.CycleSeconds * Math.Round(apart / FlashSignal.CycleSeconds);
        if (Math.Abs(apart) > Farthest)
        {
            return Refused($"Picture and sound are more than {Farthest} s apart, or do not belong together.");
        }

        var differences = new List<double>();
        foreach (var beep in heard.Beeps)
        {
            if (seen.Onset(frames, beep + apart, interval) is { } onset)
            {
                differences.Add(onset - beep);
            }
        }

        if (differences.Count < Fewest)
        {
            return Refused($"Only {differences.Count} flashes were both seen and heard; {Fewest} are needed. Record ten seconds of them.");
        }

        differences.Sort();
        var spread = differences[^1] - differences[0];
        if (spread > (1.3 * interval) + 0.01)
        {
            return Refused($"The flashes are between {1_000 * differences[0]:0} and {1_000 * differences[^1]:0} ms late: the recording leaves frames out, or its clocks drift. Record it anew.");
        }

        // Within a frame, each flash falls anywhere: of the mean that leaves two deviations of a uniform spread.
        var within = interval * (0.25 + (2 / Math.Sqrt(12.0 * differences.Count)));
        return new(1_000 * (differences.Average() - (interval / 4)), 1_000 * within, differences.Count, null);
    }

    private static PictureAlignment Refused(string words) => new(0, 0, 0, words);

    private static double[] Gaps(ReadOnlySpan<double> times)
    {
        var gaps = new double[Math.Max(1, times.Length - 1)];
        for (var k = 1; k < times.Length; k++)
        {
            gaps[k - 1] = times[k] - times[k - 1];
        }

        return gaps;
    }
}
