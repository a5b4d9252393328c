namespace Kinetra.Core.Voice;

/// <summary>The flashes of <see cref="FlashSignal"/> in a picture, wherever in it they are.</summary>
/// <param name="Shift">Where in it a cycle begins, seconds.</param>
/// <param name="Brightness">How bright what flashes is in each frame.</param>
/// <param name="Amplitude">How bright that is in a flash, on average.</param>
sealed record SeenFlashes(double Shift, double[] Brightness, double Amplitude)
{
    // Beginnings are tried in steps of so many ms.
    private const int Step = 10;

    // Chance gives a cell half of 1 on average, with a variance of 5/4; this is so many deviations above it. Another beginning may not be as likely.
    private const double LeastOverChance = 8, MostOfNext = 0.6;

    /// <summary>Finds them; null: nothing flashes so.</summary>
    /// <param name="frames">When each frame is shown, seconds, rising.</param>
    /// <param name="picture">The brightness of each frame's cells, as many for each.</param>
    public static SeenFlashes? In(ReadOnlySpan<double> frames, ReadOnlySpan<byte> picture)
    {
        var cells = picture.Length / frames.Length;
        var series = new double[cells][];
        var deviation = new double[cells];
        for (var c = 0; c < cells; c++)
        {
            series[c] = new double[frames.Length];
            for (var k = 0; k < frames.Length; k++)
            {
                series[c][k] = picture[(k * cells) + c];
            }

            Level(frames, series[c]);
            deviation[c] = Math.Sqrt((series[c].Sum(x => x * x) / frames.Length) + 0.25);
        }

        var shifts = (int)(FlashSignal.CycleSeconds * 1_000 / Step);
        var scores = new double[shifts];
        var bright = new List<int>();
        for (var shift = 0; shift < shifts; shift++)
        {
            BrightFrames(frames, shift * Step / 1_000.0, bright);
            for (var c = 0; c < cells && bright.Count > 0; c++)
            {
                var z = Math.Max(0, Sum(series[c], bright) / deviation[c] / Math.Sqrt(bright.Count));
                scores[shift] += z * z;
            }
        }

        var best = Peaks.Best(scores, 200 / Step, out var next);
        if (scores[best] < (cells / 2.0) + (LeastOverChance * Math.Sqrt(1.25 * cells)) || next > MostOfNext * scores[best])
        {
            return null;
        }

        // Every cell counts by how clearly it flashes.
        BrightFrames(frames, best * Step / 1_000.0, bright);
        var brightness = new double[frames.Length];
        for (var c = 0; c < cells; c++)
        {
            var weight = Math.Max(0, Sum(series[c], bright)) / deviation[c] / deviation[c];
            for (var k = 0; k < frames.Length; k++)
            {
                brightness[k] += weight * series[c][k];
            }
        }

        return new(best * Step / 1_000.0, brightness, Sum(brightness, bright) / bright.Count);
    }

    /// <summary>When the first frame is shown that has half of a flash; null: none has.</summary>
    /// <param name="frames">When each frame is shown, seconds.</param>
    /// <param name="moment">When it is expected, seconds.</param>
    /// <param name="interval">How long a frame is shown, seconds.</param>
    public double? Onset(ReadOnlySpan<double> frames, double moment, double interval)
    {
        const double Before = 0.25, After = 0.2;
        var dark = new List<double>();
        var brightest = double.NegativeInfinity;
        var slack = interval + 0.02;
        for (var k = 0; k < frames.Length; k++)
        {
            if (frames[k] >= moment - Before && frames[k] < moment - slack)
            {
                dark.Add(Brightness[k]);
            }
            else if (frames[k] >= moment - slack && frames[k] <= moment + After)
            {
                brightest = Math.Max(brightest, Brightness[k]);
            }
        }

        if (dark.Count == 0)
        {
            return null;
        }

        var low = Peaks.Median([.. dark]);
        if (brightest - low < Amplitude / 2)
        {
            return null;
        }

        for (var k = 0; k < frames.Length; k++)
        {
            if (frames[k] >= moment - slack && frames[k] <= moment + After && Brightness[k] >= (low + brightest) / 2)
            {
                return frames[k];
            }
        }

        return null;
    }

    private static double Sum(double[] values, List<int> at)
    {
        var sum = 0.0;
        foreach (var k in at)
        {
            sum += values[k];
        }

        return sum;
    }

    private static void BrightFrames(ReadOnlySpan<double> frames, double shift, List<int> bright)
    {
        bright.Clear();
        foreach (var moment in FlashSignal.Moments(shift, frames[^1]))
        {
            var k = frames.BinarySearch(moment);
            for (k = k < 0 ? ~k : k; k < frames.Length && frames[k] < moment + FlashSignal.FlashSeconds; k++)
            {
                bright.Add(k);
            }
        }
    }

    // Takes the mean of the second around each frame off it.
    private static void Level(ReadOnlySpan<double> frames, double[] values)
    {
        const double Half = 0.5;
        var was = values.ToArray();
        var (from, to, sum) = (0, 0, 0.0);
        for (var k = 0; k < was.Length; k++)
        {
            for (; to < was.Length && frames[to] <= frames[k] + Half; to++)
            {
                sum += was[to];
            }

            for (; frames[from] < frames[k] - Half; from++)
            {
                sum -= was[from];
            }

            values[k] = was[k] - (sum / (to - from));
        }
    }
}
