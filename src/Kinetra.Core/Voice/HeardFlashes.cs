using System.Collections.Immutable;
using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Voice;

/// <summary>The beeps of <see cref="FlashSignal"/> in a sound.</summary>
/// <param name="Shift">Where in it a cycle begins, seconds.</param>
/// <param name="Beeps">When it beeps, seconds, rising.</param>
sealed record HeardFlashes(double Shift, ImmutableArray<double> Beeps)
{
    // A hop of the coefficients: a millisecond.
    private const int Hop = AudioFormat.SampleRate / 1_000;

    // As far as the clock of the recording may have run away from that of the flashes, hops.
    private const int Slack = 6;

    // A room's echo comes within so many hops.
    private const int Echo = 120;

    // Two beginnings that are as near are the same.
    private const int Near = 100;

    // So much of what sounds at its best moments has to be the beep; and another beginning may not be as likely.
    private const double LeastAlike = 0.3, MostOfNext = 0.75;

    /// <summary>Finds them; null: there are none.</summary>
    /// <param name="sound">From second 0 on, at 48 kHz.</param>
    public static HeardFlashes? In(ReadOnlySpan<float> sound)
    {
        var (alike, strength) = Likeness(sound);
        var seconds = alike.Length / 1_000.0;
        var shifts = (int)(FlashSignal.CycleSeconds * 1_000);
        var scores = new double[shifts];
        for (var shift = 0; shift < shifts; shift++)
        {
            var (sum, count) = (0.0, 0);
            foreach (var moment in FlashSignal.Moments(shift / 1_000.0, seconds))
            {
                var at = (int)(moment * 1_000);
                sum += Peaks.Highest(alike, at - Slack, at + Slack);
                count++;
            }

            scores[shift] = count < PictureAlignment.Fewest ? 0 : sum / count;
        }

        var best = Peaks.Best(scores, Near, out var next);
        if (scores[best] < LeastAlike || next > MostOfNext * scores[best])
        {
            return null;
        }

        // An echo by itself is as much like the beep as what came straight, and softer: what counts is the first that is loud.
        var first = new List<(int Late, int At)>();
        foreach (var moment in FlashSignal.Moments(best / 1_000.0, seconds))
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
                if (alike[h] >= scores[best] / 2 && strength[h] >= loudest / 2 && strength[h] >= Peaks.Highest(strength, h - 2, h + 2))
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
        return new((best + usual) / 1_000.0, [.. first.Where(f => Math.Abs(f.Late - usual) <= 2 * Slack).Select(f => f.At / 1_000.0)]);
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
}
