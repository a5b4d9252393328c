using System.Collections.Immutable;
using Kinetra.Core.Dsp;
using Kinetra.Core.Engine;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Voice;

/// <summary>Hum of the mains.</summary>
/// <param name="Base">50 or 60 Hz.</param>
/// <param name="Level">Of all its multiples together, dBFS.</param>
/// <param name="Multiples">The highest multiple that stands out.</param>
public sealed record MainsHum(int Base, double Level, int Multiples);

/// <summary>A third of an octave of a voice, its room and usual speech, dBFS.</summary>
/// <param name="Hertz">Its middle.</param>
/// <param name="Voice">The speech while it lasts, the room taken off.</param>
/// <param name="Room">The silence.</param>
/// <param name="Usual">The average speech spectrum, as loud as this voice between 250 Hz and 4 kHz.</param>
public sealed record VoiceBand(double Hertz, double Voice, double Room, double Usual);

/// <summary>What is found in a stretch of silence and one of speech, as they go into a chain. Levels are RMS, dBFS (AES17), unless said otherwise.</summary>
/// <param name="Floor">The room, while nobody speaks.</param>
/// <param name="Stirring">How far the loudest twentieth of the silence stands over the rest, dB.</param>
/// <param name="Loudness">Of the speech, LUFS.</param>
/// <param name="Speech">Of the speech, while it lasts.</param>
/// <param name="Softest">The softest words: the 10th percentile of windows of 43 ms while somebody speaks.</param>
/// <param name="RoomTop">The room as a gate hears it, above 150 Hz: the 99th percentile of the highest samples of windows of 21 ms, dB.</param>
/// <param name="SoftTop">The softest words as a gate hears them: the 10th percentile of the same while somebody speaks, dB.</param>
/// <param name="Peak">The highest true peak, dBTP.</param>
/// <param name="Range">How far soft and loud are apart, LU.</param>
/// <param name="Hum">Hum of the mains in the silence; null: none stands out.</param>
/// <param name="Rumble">20–70 Hz in the silence over all else in it, dB.</param>
/// <param name="Plosives">Thumps below 120 Hz in ten seconds of speech.</param>
/// <param name="Sibilance">The sharp sounds over the voice, dB; see <see cref="SoundMeasures.Sibilance"/>.</param>
/// <param name="Muddy">How much 200–400 Hz stands above the average speech spectrum, dB, by the rest of it.</param>
/// <param name="Nasal">The same of 800–1250 Hz.</param>
/// <param name="Thin">By how much 125–250 Hz is missing.</param>
/// <param name="Dull">By how much 3–10 kHz is missing.</param>
/// <param name="FlatTops">Runs of three samples and more at the same top: clipping, before any gain.</param>
/// <param name="Decay">How long the room sounds on after a word, s for 60 dB, 500 Hz – 4 kHz; not a number where no word ends freely.</param>
/// <param name="Bands">In thirds of an octave, 125 Hz – 10 kHz; nothing where nobody was heard.</param>
public sealed record VoiceReport(
    double Floor,
    double Stirring,
    double Loudness,
    double Speech,
    double Softest,
    double RoomTop,
    double SoftTop,
    double Peak,
    double Range,
    MainsHum? Hum,
    double Rumble,
    double Plosives,
    double Sibilance,
    double Muddy,
    double Nasal,
    double Thin,
    double Dull,
    int FlatTops,
    double Decay,
    ImmutableArray<VoiceBand> Bands)
{
    private const int HumLength = 65_536;
    private const double StandsOut = 12;

    // Below this a room is not heard, dBFS.
    private const double Unheard = -90;

    // In hundredths of a second.
    private const int Pause = 25, Ends = 10;

    // What a gate's key loses: neither thumps nor hum open it.
    private const double KeyLowCut = 150;

    /// <summary>By how much the speech stands over the room, dB.</summary>
    public double OverRoom => Speech - Floor;

    /// <summary>Measures both.</summary>
    /// <param name="silence">Nobody speaks: 3 s at the least.</param>
    /// <param name="speech">Somebody reads aloud: 5 s at the least.</param>
    /// <exception cref="ArgumentException">One of both is too short.</exception>
    public static VoiceReport Of(SoundBuffer silence, SoundBuffer speech)
    {
        ArgumentNullException.ThrowIfNull(silence);
        ArgumentNullException.ThrowIfNull(speech);
        if (silence.Frames < 3 * AudioFormat.SampleRate || speech.Frames < 5 * AudioFormat.SampleRate)
        {
            throw new ArgumentException("Of silence 3 s, of speech 5 s at the least.", silence.Frames < 3 * AudioFormat.SampleRate ? nameof(silence) : nameof(speech));
        }

        var (quiet, spoken) = (new ShortTimeSpectra(silence), new ShortTimeSpectra(speech));
        var measures = SoundMeasures.Of(speech, spoken);

        // Of the silence, the middle: a click or a breath in it is no room.
        var silent = Windows(quiet).Select(i => Decibels(quiet.Power(i, 20, 20_000))).Order().ToArray();
        var floor = At(silent, 0.5);
        var levels = Windows(spoken).Select(i => Decibels(spoken.Power(i, 20, 20_000))).ToArray();
        var loud = At([.. levels.Order()], 0.95);
        var words = Windows(spoken).Where(i => levels[i] >= Math.Max(loud - 30, floor + 4)).ToArray();
        var own = words.Length == 0 ? [double.NegativeInfinity] : words.Select(i => levels[i]).Order().ToArray();
        var bands = BandsOf(spoken, quiet, words);
        var shape = bands.Select(b => b.Voice - b.Usual).ToArray();
        var (roomTops, tops) = (TopsOf(silence), TopsOf(speech));
        return new(
            floor,
            At(silent, 0.95) - Math.Max(floor, Unheard),
            measures.Loudness,
            words.Length == 0 ? double.NegativeInfinity : Decibels(words.Average(i => spoken.Power(i, 20, 20_000))),
            At(own, 0.10),
            At([.. roomTops.Order()], 0.99),
            words.Length == 0 ? double.NegativeInfinity : At([.. words.Select(i => tops[Math.Min(i, tops.Length - 1)]).Order()], 0.10),
            measures.Peak,
            measures.Range,
            HumOf(silence),
            Decibels(Windows(quiet).Average(i => quiet.Power(i, 20, 70))) - Decibels(Windows(quiet).Average(i => quiet.Power(i, 100, 20_000))),
            ThumpsOf(spoken, words) * 10.0 * AudioFormat.SampleRate / speech.Frames,
            measures.Sibilance,
            Over(shape, 200, 400),
            Over(shape, 800, 1_250),
            -Over(shape, 125, 250),
            -Over(shape, 3_000, 10_000),
            FlatTopsOf(speech),
            DecayOf(speech, floor),
            words.Length == 0 ? [] : bands);
    }

    private static double[] TopsOf(SoundBuffer sound)
    {
        var cut = BiquadCoefficients.HighPass(KeyLowCut, 0.707, AudioFormat.SampleRate);
        var tops = new double[sound.Frames / ShortTimeSpectra.Step];
        foreach (var channel in new[] { sound.Left, sound.Right })
        {
            var filter = new Biquad();
            for (var i = 0; i < tops.Length && channel is not null; i++)
            {
                for (var n = i * ShortTimeSpectra.Step; n < (i + 1) * ShortTimeSpectra.Step; n++)
                {
                    tops[i] = Math.Max(tops[i], Math.Abs(filter.Next(cut, channel[n])));
                }
            }
        }

        return [.. tops.Select(t => 20 * Math.Log10(t))];
    }

    private static IEnumerable<int> Windows(ShortTimeSpectra spectra) => Enumerable.Range(0, spectra.Count);

    // The average speech spectrum is brought to the same mean between 250 Hz and 4 kHz; the room is taken off the voice.
    private static ImmutableArray<VoiceBand> BandsOf(ShortTimeSpectra spoken, ShortTimeSpectra quiet, int[] words)
    {
        var edge = Math.Pow(2, 1 / 6.0);
        var powers = SpeechSpectrum.Midbands.Select(m =>
        {
            var room = Median(Windows(quiet).Select(i => quiet.Power(i, m / edge, m * edge)));
            var both = words.Length == 0 ? 0 : words.Average(i => spoken.Power(i, m / edge, m * edge));
            return (Voice: Decibels(Math.Max(both - room, both * 0.01)), Room: Decibels(room));
        }).ToArray();
        var middle = Enumerable.Range(0, powers.Length).Where(i => SpeechSpectrum.Midbands[i] is >= 250 and <= 4_000).ToArray();
        var offset = middle.Average(i => powers[i].Voice - SpeechSpectrum.Levels[i]);
        return [.. powers.Select((p, i) => new VoiceBand(SpeechSpectrum.Midbands[i], p.Voice, p.Room, SpeechSpectrum.Levels[i] + offset))];
    }

    // Against the rest of the spectrum: what stands out there lowers everything else a little.
    private static double Over(double[] shape, double from, double to)
    {
        var within = Enumerable.Range(0, shape.Length).Where(i => SpeechSpectrum.Midbands[i] >= from && SpeechSpectrum.Midbands[i] <= to).ToArray();
        var rest = Enumerable.Range(0, shape.Length).Except(within).ToArray();
        return within.Average(i => shape[i]) - Median(rest.Select(i => shape[i]));
    }

    private static MainsHum? HumOf(SoundBuffer silence)
    {
        var powers = LongSpectrum(silence.Left);
        MainsHum? most = null;
        foreach (var mains in new[] { 50, 60 })
        {
            var (sum, found, highest) = (0.0, 0, 0);
            for (var n = 1; n <= 12; n++)
            {
                // Where both have a multiple, it tells nothing apart.
                var (line, around) = Line(powers, n * mains);
                if (line > around * Math.Pow(10, StandsOut / 10))
                {
                    (sum, found, highest) = (sum + line, found + (n * mains % 300 == 0 ? 0 : 1), n);
                }
            }

            if (found >= 2 && (most is null || sum > Math.Pow(10, most.Level / 10)))
            {
                most = new MainsHum(mains, Decibels(sum), highest);
            }
        }

        return most;
    }

    // The power of a line, and what a line's width has of what lies around.
    private static (double Line, double Around) Line(double[] powers, double hertz)
    {
        var width = (double)AudioFormat.SampleRate / HumLength;
        var (middle, reach) = ((int)Math.Round(hertz / width), (int)Math.Ceiling(1.5 / width));
        var line = 0.0;
        for (var k = middle - reach; k <= middle + reach; k++)
        {
            line += powers[k];
        }

        var around = Enumerable.Range(middle - (8 * reach), (16 * reach) + 1).Where(k => k > 0 && Math.Abs(k - middle) > 2 * reach).Select(k => powers[k]);
        return (line, Median(around) * ((2 * reach) + 1) * 1.44);
    }

    // Mean power of windows of 1.4 s, half overlapped; power 1 is a full-scale sine's.
    private static double[] LongSpectrum(float[] samples)
    {
        var transform = new FourierTransform(HumLength);
        var powers = new double[HumLength / 2];
        var windows = 0;
        var (re, im) = (new float[HumLength], new float[HumLength]);
        for (var from = 0; from + HumLength <= samples.Length; from += HumLength / 2, windows++)
        {
            for (var n = 0; n < HumLength; n++)
            {
                re[n] = samples[from + n] * (float)(0.5 - (0.5 * Math.Cos(2 * Math.PI * n / HumLength)));
            }

            Array.Clear(im);
            transform.Forward(re, im);
            for (var k = 0; k < powers.Length; k++)
            {
                powers[k] += (((double)re[k] * re[k]) + ((double)im[k] * im[k])) / (3.0 / 32 * HumLength * HumLength);
            }
        }

        return [.. powers.Select(p => p / Math.Max(1, windows))];
    }

    // A thump: below 120 Hz, far above what is usual there, and above the voice's own octave for that moment.
    private static int ThumpsOf(ShortTimeSpectra spoken, int[] words)
    {
        if (words.Length == 0)
        {
            return 0;
        }

        var low = Windows(spoken).Select(i => spoken.Power(i, 20, 100)).ToArray();
        var usual = Median(words.Select(i => low[i]));
        var voice = words.Average(i => spoken.Power(i, 200, 4_000));
        var (count, last) = (0, -10);
        for (var i = 0; i < low.Length; i++)
        {
            if (low[i] > usual * 30 && low[i] > voice * 0.25)
            {
                count += i - last > 4 ? 1 : 0;
                last = i;
            }
        }

        return count;
    }

    // Within 0.2 % of the top, not alike to the bit as the meter of files wants it: on the way here there was a converter, and what is kept has 16 bits a block.
    internal static int FlatTopsOf(SoundBuffer sound)
    {
        var count = 0;
        foreach (var channel in new[] { sound.Left, sound.Right })
        {
            if (channel is null)
            {
                continue;
            }

            var top = channel.Max(Math.Abs) * 0.998f;
            for (var n = 0; n < channel.Length && top > 1e-3f;)
            {
                var run = 0;
                while (n + run < channel.Length && Math.Abs(channel[n + run]) >= top)
                {
                    run++;
                }

                count += run >= 3 ? 1 : 0;
                n += run + 1;
            }
        }

        return count;
    }

    // Where a word ends before a pause of a quarter of a second, from 5 dB below its end to 17: the median of all such ends.
    private static double DecayOf(SoundBuffer speech, double floor)
    {
        const int Step = AudioFormat.SampleRate / 100;
        var band = new SectionCascade([BiquadCoefficients.HighPass(500, 0.707, AudioFormat.SampleRate), BiquadCoefficients.LowPass(4_000, 0.707, AudioFormat.SampleRate)]);
        var frames = new System.Runtime.Intrinsics.Vector128<double>[speech.Frames];
        var (left, right) = ((float[])speech.Left.Clone(), (float[])(speech.Right ?? speech.Left).Clone());
        Pairs.Load(left, right, frames);
        band.Process(frames);
        Pairs.Store(frames, left, right);
        var levels = Enumerable.Range(0, left.Length / Step).Select(i =>
        {
            var sum = 0.0;
            for (var n = i * Step; n < (i + 1) * Step; n++)
            {
                sum += (double)left[n] * left[n];
            }

            return Decibels(2 * sum / Step);
        }).ToArray();
        // Over 50 ms, so that a beat between two reflections is no end.
        var smooth = Enumerable.Range(0, levels.Length).Select(i => Decibels(Enumerable.Range(Math.Max(0, i - 2), Math.Min(levels.Length, i + 3) - Math.Max(0, i - 2)).Average(k => Math.Pow(10, levels[k] / 10)))).ToArray();
        var loud = At([.. smooth.Order()], 0.9);
        var slopes = new List<double>();
        for (var i = 0; i + Pause < smooth.Length; i++)
        {
            // The last loud moment before a pause.
            if (smooth[i] < loud - 10 || smooth.AsSpan(i + Ends, Pause - Ends).ToArray().Max() > smooth[i] - 3 || smooth[i] - 17 < floor + 4)
            {
                continue;
            }

            // Where the next word comes sooner, the first 6 dB of it have to do.
            var (from, to, fall) = (FirstBelow(smooth, i, smooth[i] - 5), FirstBelow(smooth, i, smooth[i] - 17), 12.0);
            if (to < 0 || to > i + (2 * Pause))
            {
                (to, fall) = (FirstBelow(smooth, i, smooth[i] - 11), 6);
            }

            if (from > 0 && to > from && to <= i + (2 * Pause))
            {
                slopes.Add((to - from) * 0.01 * 60 / fall);
                i = to;
            }
        }

        return slopes.Count < 2 ? double.NaN : Median(slopes);
    }

    private static int FirstBelow(double[] levels, int from, double level)
    {
        for (var i = from; i < levels.Length; i++)
        {
            if (levels[i] < level)
            {
                return i;
            }
        }

        return -1;
    }

    private static double Decibels(double power) => 10 * Math.Log10(power);

    private static double Median(IEnumerable<double> values)
    {
        var sorted = values.Order().ToArray();
        return sorted.Length == 0 ? double.NaN : sorted[sorted.Length / 2];
    }

    private static double At(double[] sorted, double share) => sorted[(int)Math.Round(share * (sorted.Length - 1))];
}
