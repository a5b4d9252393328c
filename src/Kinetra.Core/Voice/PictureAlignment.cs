using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

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

    // A hop of the sound's coefficients: a millisecond.
    private const int Hop = AudioFormat.SampleRate / 1_000;
    private const int PictureStep = 10;

    // As far as the clock of the recording may have run away from that of the flashes, hops.
    private const int Slack = 6;

    // A room's echo comes within so many hops.
    private const int Echo = 120;

    // So much of what sounds at its best moments has to be the beep; and another beginning may not be as likely.
    private const double LeastAlike = 0.3, MostOfNext = 0.75;

    // Chance gives a cell half of 1 on average, with a variance of 5/4; this is so many deviations above it. Another beginning may not be as likely.
    private const double LeastOverChance = 8, MostOfNextPicture = 0.6;

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

        var interval = Median([.. Gaps(frames)]);
        if (frames.Length < 2 || !(interval <= 1 / FewestFrames))
        {
            return Refused($"The picture has fewer than {FewestFrames} frames in a second: that says too little.");
        }

        if (Heard(sound) is not { } heard)
        {
            return Refused("The beeps were not heard in the file’s sound. Play them on speakers, loud enough for the microphone, and record it with the picture.");
        }

        if (Seen(frames, picture) is not { } seen)
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
            if (Onset(frames, seen.Brightness, beep + apart, interval, seen.Amplitude) is { } onset)
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

    /// <summary>When somebody clapped: sudden loud beginnings, the loudest eight of them, in seconds, rising.</summary>
    /// <param name="sound">The sound from second 0 on, at 48 kHz.</param>
    public static IReadOnlyList<double> Claps(ReadOnlySpan<float> sound)
    {
        const int Most = 8, Apart = 150, Before = 60;
        const double Rise = 30, OfLoudest = 0.06, Audible = 1e-5, Beginning = 0.1;
        var energy = new double[sound.Length / Hop];
        for (var h = 0; h < energy.Length; h++)
        {
            for (var n = Math.Max(1, h * Hop); n < (h + 1) * Hop; n++)
            {
                // A clap is bright: the difference leaves rumble and hum out.
                var bright = sound[n] - sound[n - 1];
                energy[h] += (double)bright * bright / Hop;
            }
        }

        var loudest = energy.DefaultIfEmpty().Max();
        var found = new List<(double Level, int At)>();
        for (var h = 4; h < energy.Length; h++)
        {
            var before = 0.0;
            var from = Math.Max(0, h - 3 - Before);
            for (var b = from; b < h - 3; b++)
            {
                before += energy[b] / (h - 3 - from);
            }

            if (energy[h] > Audible * Audible && energy[h] >= loudest * OfLoudest && energy[h] > Rise * before && energy[h] >= Highest(energy, h - 5, h + 20))
            {
                found.Add((energy[h], h));
            }
        }

        var claps = new List<int>();
        foreach (var (_, at) in found.OrderByDescending(f => f.Level))
        {
            if (claps.Count < Most && claps.TrueForAll(c => Math.Abs(c - at) > Apart))
            {
                claps.Add(at);
            }
        }

        return [.. claps.Order().Select(at =>
        {
            var first = at;
            while (first > at - 5 && first > 0 && energy[first - 1] >= Beginning * energy[at])
            {
                first--;
            }

            return first / 1_000.0;
        })];
    }

    private static PictureAlignment Refused(string words) => new(0, 0, 0, words);

    private static double Highest(double[] values, int from, int to)
    {
        var most = 0.0;
        for (var i = Math.Max(0, from); i <= Math.Min(values.Length - 1, to); i++)
        {
            most = Math.Max(most, values[i]);
        }

        return most;
    }

    private static double[] Gaps(ReadOnlySpan<double> times)
    {
        var gaps = new double[Math.Max(1, times.Length - 1)];
        for (var k = 1; k < times.Length; k++)
        {
            gaps[k - 1] = times[k] - times[k - 1];
        }

        return gaps;
    }

    private static double Median(double[] values)
    {
        Array.Sort(values);
        return values[values.Length / 2];
    }

    // All moments of the signal within a length, where it began at a shift, seconds.
    private static IEnumerable<double> Moments(double shift, double seconds)
    {
        for (var cycle = shift - FlashSignal.CycleSeconds; cycle < seconds; cycle += FlashSignal.CycleSeconds)
        {
            foreach (var time in FlashSignal.Times)
            {
                if (cycle + time >= 0 && cycle + time < seconds)
                {
                    yield return cycle + time;
                }
            }
        }
    }

    // Where in its cycle the sound begins, and when it beeps; null: it does not.
    private static (double Shift, List<double> Beeps)? Heard(ReadOnlySpan<float> sound)
    {
        var (alike, strength) = Likeness(sound);
        var seconds = alike.Length / 1_000.0;
        var shifts = (int)(FlashSignal.CycleSeconds * 1_000);
        var scores = new double[shifts];
        for (var shift = 0; shift < shifts; shift++)
        {
            var (sum, count) = (0.0, 0);
            foreach (var moment in Moments(shift / 1_000.0, seconds))
            {
                var at = (int)(moment * 1_000);
                sum += Highest(alike, at - Slack, at + Slack);
                count++;
            }

            scores[shift] = count < Fewest ? 0 : sum / count;
        }

        var best = Best(scores, 100, out var next);
        if (scores[best] < LeastAlike || next > MostOfNext * scores[best])
        {
            return null;
        }

        // An echo by itself is as much like the beep as what came straight, and softer: what counts is the first that is loud.
        var first = new List<(int Late, int At)>();
        foreach (var moment in Moments(best / 1_000.0, seconds))
        {
            var at = (int)(moment * 1_000);
            var (from, to) = (Math.Max(0, at - Echo), Math.Min(alike.Length - 1, at + Echo));
            var loudest = 0.0;
            for (var h = from; h <= to; h++)
            {
                loudest = alike[h] >= scores[best] / 2 ? Math.Max(loudest, strength[h]) : loudest;
            }

            for (var h = from; h <= to && loudest > 0; h++)
            {
                if (alike[h] >= scores[best] / 2 && strength[h] >= loudest / 2 && strength[h] >= Highest(strength, h - 2, h + 2))
                {
                    first.Add((h - at, h));
                    break;
                }
            }
        }

        if (first.Count == 0)
        {
            return null;
        }

        var usual = first.OrderBy(f => f.Late).ElementAt(first.Count / 2).Late;
        return ((best + usual) / 1_000.0, [.. first.Where(f => Math.Abs(f.Late - usual) <= 2 * Slack).Select(f => f.At / 1_000.0)]);
    }

    // How much of the sound is the beep, 0 … 1, for each millisecond in which it may begin; and how loud that is.
    private static (double[] Alike, double[] Strength) Likeness(ReadOnlySpan<float> sound)
    {
        const int Length = 1 << 16;
        var beep = FlashSignal.Beep;
        var transform = new FourierTransform(Length);
        var (beepRe, beepIm) = (new float[Length], new float[Length]);
        beep.CopyTo(beepRe);
        transform.Forward(beepRe, beepIm);
        var own = Math.Sqrt(beep.Sum(b => (double)b * b));
        var most = new double[Math.Max(0, (sound.Length - beep.Length) / Hop)];
        var strength = new double[most.Length];
        var (re, im) = (new float[Length], new float[Length]);
        for (var from = 0; from < most.Length * Hop; from += Length - beep.Length)
        {
            var part = sound[from..Math.Min(sound.Length, from + Length)];
            Array.Clear(re);
            Array.Clear(im);
            part.CopyTo(re);
            transform.Forward(re, im);
            for (var k = 0; k < Length; k++)
            {
                (re[k], im[k]) = ((re[k] * beepRe[k]) + (im[k] * beepIm[k]), (im[k] * beepRe[k]) - (re[k] * beepIm[k]));
            }

            transform.Back(re, im);
            var energy = 1e-12;
            for (var n = 0; n < beep.Length - 1 && n < part.Length; n++)
            {
                energy += (double)part[n] * part[n];
            }

            for (var n = 0; n < Length - beep.Length && n + beep.Length <= part.Length; n++)
            {
                var last = part[n + beep.Length - 1];
                energy += (double)last * last;
                if ((from + n) / Hop is var h && h < most.Length)
                {
                    strength[h] = Math.Max(strength[h], Math.Abs(re[n]));
                    most[h] = Math.Max(most[h], Math.Abs(re[n]) / own / Math.Sqrt(Math.Max(energy, 1e-12)));
                }

                energy -= (double)part[n] * part[n];
            }
        }

        return (most, strength);
    }

    // Where in its cycle the picture begins, and how bright what flashes is in each frame; null: nothing flashes so.
    private static (double Shift, double[] Brightness, double Amplitude)? Seen(ReadOnlySpan<double> frames, ReadOnlySpan<byte> picture)
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

        var shifts = (int)(FlashSignal.CycleSeconds * 1_000 / PictureStep);
        var scores = new double[shifts];
        var bright = new List<int>();
        for (var shift = 0; shift < shifts; shift++)
        {
            BrightFrames(frames, shift * PictureStep / 1_000.0, bright);
            for (var c = 0; c < cells && bright.Count > 0; c++)
            {
                var z = Math.Max(0, Sum(series[c], bright) / deviation[c] / Math.Sqrt(bright.Count));
                scores[shift] += z * z;
            }
        }

        var best = Best(scores, 200 / PictureStep, out var next);
        if (scores[best] < (cells / 2.0) + (LeastOverChance * Math.Sqrt(1.25 * cells)) || next > MostOfNextPicture * scores[best])
        {
            return null;
        }

        // Every cell counts by how clearly it flashes.
        BrightFrames(frames, best * PictureStep / 1_000.0, bright);
        var brightness = new double[frames.Length];
        for (var c = 0; c < cells; c++)
        {
            var weight = Math.Max(0, Sum(series[c], bright)) / deviation[c] / deviation[c];
            for (var k = 0; k < frames.Length; k++)
            {
                brightness[k] += weight * series[c][k];
            }
        }

        return (best * PictureStep / 1_000.0, brightness, Sum(brightness, bright) / bright.Count);
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
        foreach (var moment in Moments(shift, frames[^1]))
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

    private static int Best(double[] scores, int near, out double next)
    {
        var best = Array.IndexOf(scores, scores.Max());
        next = 0;
        for (var i = 0; i < scores.Length; i++)
        {
            var apart = Math.Abs(i - best);
            next = Math.Min(apart, scores.Length - apart) > near ? Math.Max(next, scores[i]) : next;
        }

        return best;
    }

    // The first frame that has half of the flash that is expected at a moment, seconds; null: none has.
    private static double? Onset(ReadOnlySpan<double> frames, double[] brightness, double moment, double interval, double amplitude)
    {
        const double Before = 0.25, After = 0.2;
        var dark = new List<double>();
        var brightest = double.NegativeInfinity;
        var slack = interval + 0.02;
        for (var k = 0; k < frames.Length; k++)
        {
            if (frames[k] >= moment - Before && frames[k] < moment - slack)
            {
                dark.Add(brightness[k]);
            }
            else if (frames[k] >= moment - slack && frames[k] <= moment + After)
            {
                brightest = Math.Max(brightest, brightness[k]);
            }
        }

        if (dark.Count == 0)
        {
            return null;
        }

        var low = Median([.. dark]);
        if (brightest - low < amplitude / 2)
        {
            return null;
        }

        for (var k = 0; k < frames.Length; k++)
        {
            if (frames[k] >= moment - slack && frames[k] <= moment + After && brightness[k] >= (low + brightest) / 2)
            {
                return frames[k];
            }
        }

        return null;
    }
}
