using System.Diagnostics;
using Kinetra.Core.Promises;

namespace Kinetra.Bench;

/// <summary>What one look at what a listener really hears costs, with more and more sources, half of which come.</summary>
static class HearingParts
{
    private static readonly int[] SourceCounts = [4, 8, 16, 32, 64];

    public static object[] Measure()
    {
        var first = 0.0;
        return
        [
            .. SourceCounts.Select(count =>
            {
                var sounds = Enumerable.Range(0, count).Select(Sound).ToArray();
                var heard = new float[HeardSound.Kept];
                for (var i = 0; i < count; i += 2)
                {
                    var late = 40 * i;
                    for (var n = late; n < heard.Length; n++)
                    {
                        heard[n] += 0.5f * sounds[i][n - late];
                    }
                }

                var hearing = new Hearing();
                var found = 0;
                var times = Warm.Runs(5, () =>
                {
                    var begun = Stopwatch.GetTimestamp();
                    hearing.Know([.. sounds.Select((s, i) => new Reference(i, s))]);
                    found = hearing.Listen(heard).Count(s => !s.Arrivals.IsEmpty);
                    return Stopwatch.GetElapsedTime(begun).TotalMilliseconds;
                }).Order().ToArray();
                first = first == 0 ? times[2] : first;
                return (object)new { sources = count, found, lookMilliseconds = times[2], timesOfFour = times[2] / first };
            }),
        ];
    }

    // Noise that comes and goes as speech does.
    private static float[] Sound(int which)
    {
        var random = new Random(which);
        var sound = new float[HeardSound.Kept];
        var (low, loud) = (0.0, 0.0);
        for (var n = 0; n < sound.Length; n++)
        {
            loud = n % 1_024 == 0 ? random.Next(3) == 0 ? 0 : 0.05 + (0.15 * random.NextDouble()) : loud;
            low += 0.4 * ((random.NextDouble() * 2) - 1 - low);
            sound[n] = (float)(loud * low);
        }

        return sound;
    }
}
