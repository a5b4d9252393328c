using System.Collections.Immutable;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Core.Takes;

namespace Kinetra.Core.Tests.Takes;

/// <summary>A take that a test makes: what the engine gave for each track, and what its file has, which a test may damage.</summary>
sealed class MadeTake
{
    private const float Steps = 8_388_608;

    /// <summary>A take of voices that have nothing to do with each other.</summary>
    public MadeTake(int seed, int tracks, int frames, TakeForm form = TakeForm.Wav24)
    {
        (Frames, Form) = (frames, form);
        Given = [.. Enumerable.Range(0, tracks).Select(t => Voice((seed * 16) + t, frames))];
        Files = [.. Given.Select(g => g.Select(Written).ToArray())];
        Takes = [.. Enumerable.Range(0, tracks).Select(t => (Point?)new SourcePoint(new($"s{t}")))];
    }

    public int Frames { get; }

    public TakeForm Form { get; }

    /// <summary>By track, what the engine gave.</summary>
    public float[][] Given { get; }

    /// <summary>By track, what is in its file.</summary>
    public float[][] Files { get; }

    /// <summary>By track, what it took.</summary>
    public Point?[] Takes { get; }

    /// <summary>By track, when what it took was away.</summary>
    public Dictionary<int, ImmutableArray<(TakeSpan, string)>> Gaps { get; } = [];

    public bool AreVoices { get; init; } = true;

    public bool IsGivenKnown { get; init; } = true;

    /// <summary>From now on the engine gave this for a track, and its file has it.</summary>
    public void Becomes(int track, float[] sound) => (Given[track], Files[track]) = (sound, [.. sound.Select(Written)]);

    public TakeVerdict Judge() => TakeJudge.Of(Frames, [.. Enumerable.Range(0, Files.Length).Select(Evidence)]);

    private TrackEvidence Evidence(int t)
    {
        var given = new Printing(1, Form);
        given.Append(Given[t], Given[t]);
        var reading = new TrackReading(1, Form, IsGivenKnown ? [new Stretch(0, 0)] : [], TrackReading.ExcerptsOf(Frames), Form == TakeForm.Wav32 ? 1 : (Steps - 1) / Steps);

        // As a file is read: in pieces.
        var pieces = new Random(t);
        for (var at = 0; at < Files[t].Length;)
        {
            var piece = Files[t].AsSpan(at, Math.Min(pieces.Next(1, 20_000), Files[t].Length - at));
            reading.Append(piece, piece);
            at += piece.Length;
        }

        return new($"Track {t + 1}", Takes[t], Form, AreVoices, reading.Finish(), null, IsGivenKnown ? [.. given.Seconds] : [], Gaps.GetValueOrDefault(t, []));
    }

    private float Written(float sample) => Form == TakeForm.Wav32 ? sample : MathF.Round(Math.Clamp(sample * Steps, -Steps, Steps - 1), MidpointRounding.ToEven) / Steps;

    /// <summary>Syllables of noise and pitch with pauses, with the noise of a room.</summary>
    public static float[] Voice(int seed, int frames)
    {
        var (random, voice) = (new Random(seed + 1), new float[frames]);
        var (at, low) = (random.Next(12_000), 0.0);
        while (at < frames)
        {
            var (length, loud, pitch, isVoiced) = (random.Next(3_600, 14_400), 0.05 + (0.25 * random.NextDouble()), 90 + (random.NextDouble() * 160), random.Next(3) > 0);
            var phase = 0.0;
            for (var n = 0; n < length && at + n < frames; n++)
            {
                phase += (pitch * (1 + (0.2 * n / length)) / AudioFormat.SampleRate) + (0.000_3 * (random.NextDouble() - 0.5));
                var source = isVoiced ? ((phase % 1) - 0.5) + (0.3 * (random.NextDouble() - 0.5)) : random.NextDouble() - 0.5;
                low += 0.2 * (source - low);
                voice[at + n] = (float)(loud * Math.Sin(Math.PI * n / length) * (isVoiced ? low : source - low));
            }

            at += length + random.Next(1_200, random.Next(5) == 0 ? 50_000 : 9_000);
        }

        for (var n = 0; n < frames; n++)
        {
            voice[n] += (float)(2e-4 * (random.NextDouble() - 0.5));
        }

        return voice;
    }
}
