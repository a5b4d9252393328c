using System.Globalization;
using Kinetra.Core.Metering;
using Kinetra.Core.Processors;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Takes;

/// <summary>A sound at 48 kHz that can be read again from its beginning.</summary>
public interface ISoundAgain
{
    /// <summary>1 or 2.</summary>
    int Channels { get; }

    /// <summary>Its length, frames.</summary>
    long Frames { get; }

    /// <summary>Goes back to its beginning.</summary>
    void Rewind();

    /// <summary>Reads the next frames.</summary>
    /// <param name="left">Room for them.</param>
    /// <param name="right">The same length; of a sound of one channel left as it is.</param>
    /// <returns>How many; 0: it is over.</returns>
    int Read(Span<float> left, Span<float> right);
}

/// <summary>How loud a sound is to be.</summary>
/// <param name="Lufs">Integrated loudness, LUFS (ITU-R BS.1770-5), −36 to −6.</param>
/// <param name="CeilingDbtp">The true peak that nothing may exceed, dBTP, −12 to 0.</param>
public sealed record LoudnessGoal(double Lufs, double CeilingDbtp);

/// <summary>How a sound is brought to a loudness.</summary>
/// <param name="GainDb">By how much it is raised, dB; negative: lowered.</param>
/// <param name="CeilingDbtp">The true peak that it is held to; null: it needs no holding.</param>
/// <param name="Before">What it measured.</param>
/// <param name="After">What it measures so.</param>
/// <param name="MostReductionDb">By how much its highest peak is lowered beside that, dB, 0 or more.</param>
public sealed record FittedLoudness(double GainDb, double? CeilingDbtp, Measured Before, Measured After, double MostReductionDb)
{
    /// <summary>What was done, in a sentence.</summary>
    public string Sentence
    {
        get
        {
            string Number(double? value) => value is { } v ? Math.Abs(v).ToString("0.0", CultureInfo.InvariantCulture) : "?";
            string Signed(double? value) => (value < 0 ? "−" : "") + Number(value);
            var held = CeilingDbtp is null ? "" : $", peaks held by up to {Number(MostReductionDb)} dB";
            return $"From {Signed(Before.IntegratedLufs)} LUFS {(GainDb < 0 ? "lowered" : "raised")} by {Number(GainDb)} dB{held}: {Signed(After.IntegratedLufs)} LUFS, true peak {Signed(After.TruePeakDbtp)} dBTP.";
        }
    }
}

/// <summary>
/// Brings a sound to a loudness: one gain for all of it, and, only where its true peak would lie above the ceiling then, the
/// <see cref="Limiter"/> behind it. Since what a limiter takes away is missing in the loudness, the gain is found in several passes.
/// </summary>
public static class LoudnessFit
{
    private const int MostPasses = 8;
    private const double Near = 0.02;

    // A little below what is promised, as the limiter may be above what it is set to.
    private const double LimiterExcess = 0.1;
    private const double Release = 120;
    private const double LookAhead = 3;

    /// <summary>Finds how.</summary>
    /// <param name="sound">The sound.</param>
    /// <param name="goal">How loud it is to be.</param>
    /// <param name="progress">Told how far it is, 0 to 1.</param>
    /// <param name="cancel">Gives up.</param>
    /// <returns>How; null: there is nothing in it that is louder than −70 LUFS.</returns>
    public static FittedLoudness? Of(ISoundAgain sound, LoudnessGoal goal, Action<double>? progress = null, CancellationToken cancel = default)
    {
        ArgumentNullException.ThrowIfNull(sound);
        ArgumentNullException.ThrowIfNull(goal);
        var passes = 0;
        (Measured Measured, double Reduction) Measure(double gain, double? ceiling)
        {
            var measurement = new Measurement(sound.Channels, AudioFormat.SampleRate);
            var most = Pass(sound, gain, ceiling, (planes, frames) => measurement.Add(planes, frames), f => progress?.Invoke((passes + f) / (MostPasses + 1)), cancel);
            passes++;
            return (measurement.Finish(), most);
        }

        var (before, _) = Measure(0, null);
        if (before.IntegratedLufs is not { } loud || before.TruePeakDbtp is not { } peak)
        {
            return null;
        }

        var gain = goal.Lufs - loud;
        if (peak + gain <= goal.CeilingDbtp)
        {
            progress?.Invoke(1);
            return new FittedLoudness(gain, null, before, before with { IntegratedLufs = loud + gain, TruePeakDbtp = peak + gain }, 0);
        }

        FittedLoudness? best = null;
        while (passes <= MostPasses)
        {
            var (after, reduction) = Measure(gain, goal.CeilingDbtp);
            var missing = goal.Lufs - (after.IntegratedLufs ?? double.NegativeInfinity);
            if (best is null || Math.Abs(missing) < Math.Abs(goal.Lufs - best.After.IntegratedLufs!.Value))
            {
                best = new FittedLoudness(gain, goal.CeilingDbtp, before, after, reduction);
            }

            // Where more gain no longer makes it louder, that is as loud as it gets.
            if (Math.Abs(missing) <= Near || !double.IsFinite(missing))
            {
                break;
            }

            gain += missing;
        }

        progress?.Invoke(1);
        return best;
    }

    /// <summary>Gives the sound as it was fitted, as long as it was.</summary>
    /// <param name="sound">The sound.</param>
    /// <param name="fitted">How; null: as it is.</param>
    /// <param name="take">Takes the next frames: planes, and how many of each.</param>
    /// <param name="progress">Told how far it is, 0 to 1.</param>
    /// <param name="cancel">Gives up.</param>
    public static void Give(ISoundAgain sound, FittedLoudness? fitted, Action<float[][], int> take, Action<double>? progress = null, CancellationToken cancel = default)
    {
        ArgumentNullException.ThrowIfNull(sound);
        ArgumentNullException.ThrowIfNull(take);
        Pass(sound, fitted?.GainDb ?? 0, fitted?.CeilingDbtp, take, progress, cancel);
    }

    // The most that was taken away, dB.
    private static double Pass(ISoundAgain sound, double gainDb, double? ceiling, Action<float[][], int> take, Action<double>? progress, CancellationToken cancel)
    {
        const int block = AudioFormat.BlockFrames;
        var limiter = ceiling is { } top ? Limiter.Type.Make(new ProcessorSettings(sound.Channels, [0, Math.Max(-20, top - LimiterExcess), Release, LookAhead])) : null;
        float[][] planes = [.. Enumerable.Range(0, sound.Channels).Select(_ => new float[block])];
        var factor = (float)Math.Pow(10, gainDb / 20);
        var late = limiter?.Latency ?? 0;
        var most = 0.0;
        long given = 0;
        sound.Rewind();
        while (given < sound.Frames)
        {
            cancel.ThrowIfCancellationRequested();
            var read = 0;
            for (int count; read < block && (count = sound.Read(planes[0].AsSpan(read), planes[^1].AsSpan(read))) > 0;)
            {
                read += count;
            }

            // Behind the end there is silence, in which what the limiter still has comes out.
            foreach (var plane in planes)
            {
                plane.AsSpan(read).Clear();
                for (var n = 0; n < read; n++)
                {
                    plane[n] *= factor;
                }
            }

            if (limiter is not null)
            {
                var right = sound.Channels == 2 ? planes[1] : [];
                limiter.Process(new Frames(planes[0], right), new RoomForFrames(planes[0], right), default);
                most = Math.Max(most, limiter.Reduction);
            }

            var skipped = Math.Min(late, block);
            late -= skipped;
            if (skipped > 0)
            {
                foreach (var plane in planes)
                {
                    plane.AsSpan(skipped).CopyTo(plane);
                }
            }

            var frames = (int)Math.Min(block - skipped, sound.Frames - given);
            if (frames > 0)
            {
                take(planes, frames);
                given += frames;
            }

            progress?.Invoke((double)given / sound.Frames);
        }

        return most;
    }
}
