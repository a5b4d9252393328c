using Kinetra.Core.Signal;

namespace Kinetra.Core.Voice;

/// <summary>Claps in a sound.</summary>
public static class Claps
{
    // A millisecond.
    private const int Hop = AudioFormat.SampleRate / 1_000;

    /// <summary>When somebody clapped: sudden loud beginnings, the loudest eight of them, in seconds, rising.</summary>
    /// <param name="sound">The sound from second 0 on, at 48 kHz.</param>
    public static IReadOnlyList<double> In(ReadOnlySpan<float> sound)
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

            if (energy[h] > Audible * Audible && energy[h] >= loudest * OfLoudest && energy[h] > Rise * before && energy[h] >= Peaks.Highest(energy, h - 5, h + 20))
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
}
