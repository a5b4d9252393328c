using Kinetra.Core.Dsp;
using Kinetra.Core.Engine;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Pads;

/// <summary>
/// A pad as it is played: its times as frames of its sound, and what keeps its edges from clicking, which follows from the sound itself.
/// </summary>
public sealed record ReadyPad
{
    /// <summary>The shortest fade where a sound is cut into, frames: 2 ms. Short, since an attack may begin there.</summary>
    public const int ShortestIn = 96;

    /// <summary>The shortest fade where a sound is cut off, frames.</summary>
    public const int ShortestOut = Fade.Frames;

    /// <summary>By how much a sound that does not go round by itself is laid over its own beginning, frames: 10.7 ms.</summary>
    public const int LongestSeam = Fade.Frames;

    // −60 dBFS: a sound that begins or ends below that may do so as it is.
    private const float Quiet = 0.001f;

    private ReadyPad()
    {
    }

    /// <summary>Which one it is.</summary>
    public required PadId Id { get; init; }

    /// <summary>What pressing it does.</summary>
    public required PadPlay Play { get; init; }

    /// <summary>The first frame of the sound that is played.</summary>
    public required int Begin { get; init; }

    /// <summary>The frame behind the last.</summary>
    public required int End { get; init; }

    /// <summary>How long it fades in, frames; with <see cref="FadeOut"/> no longer than it is.</summary>
    public required int FadeIn { get; init; }

    /// <summary>How long it fades out at its end, frames.</summary>
    public required int FadeOut { get; init; }

    /// <summary>How long it fades out where it is stopped, frames.</summary>
    public required int StopFade { get; init; }

    /// <summary>Of a loop: how many frames before its end it crosses over into its beginning; 0: it fits, and goes round to the sample.</summary>
    public required int Seam { get; init; }

    /// <summary>Its gain, a factor.</summary>
    public required float Gain { get; init; }

    /// <summary>Of pads with the same word, the one that begins ends the others; empty: none.</summary>
    public required string Group { get; init; }

    /// <summary>The factor of all else while it sounds; 1: that stays as it is.</summary>
    public required float Dim { get; init; }

    /// <summary>How many frames it plays from its beginning to its end.</summary>
    public int Frames => End - Begin;

    /// <summary>Makes a pad ready.</summary>
    /// <param name="pad">A valid pad.</param>
    /// <param name="sound">Its sound; some of its frames are read.</param>
    public static ReadyPad Of(Pad pad, ISoundReader sound)
    {
        ArgumentNullException.ThrowIfNull(pad);
        ArgumentNullException.ThrowIfNull(sound);
        var end = Math.Min(FrameOf(pad.End), sound.Frames);

        // Of a sound that became shorter than where its pad begins, the last moment.
        var begin = Math.Clamp(FrameOf(pad.Begin), 0, Math.Max(0, end - ShortestIn));
        var frames = end - begin;
        var fadeIn = Math.Max(FrameOf(pad.FadeIn), begin == 0 && PeakAt(sound, 0) < Quiet ? 0 : ShortestIn);
        var fadeOut = Math.Max(FrameOf(pad.FadeOut), end == sound.Frames && PeakAt(sound, end - 1) < Quiet ? 0 : ShortestOut);
        var tooLong = Math.Max(1.0, (double)(fadeIn + fadeOut) / Math.Max(1, frames));
        return new ReadyPad
        {
            Id = pad.Id,
            Play = pad.Play,
            Begin = begin,
            End = end,
            FadeIn = (int)(fadeIn / tooLong),
            FadeOut = (int)(fadeOut / tooLong),
            StopFade = Math.Max(FrameOf(pad.FadeOut), ShortestOut),
            Seam = pad.Play == PadPlay.Loop && !GoesRound(sound, begin, end) ? Math.Min(LongestSeam, frames / 2) : 0,
            Gain = (float)pad.Gain.Linear,
            Group = pad.Group,
            Dim = (float)Math.Pow(10, -pad.Dim / 20),
        };
    }

    /// <summary>Frames of a time in ms, rounded.</summary>
    public static int FrameOf(double milliseconds) => (int)Math.Round(milliseconds * AudioFormat.SampleRate / 1000);

    private static float PeakAt(ISoundReader sound, int frame)
    {
        Span<float> left = stackalloc float[1], right = stackalloc float[1];
        sound.Copy(frame, left, sound.Channels == 2 ? right : default);
        return Math.Max(Math.Abs(left[0]), sound.Channels == 2 ? Math.Abs(right[0]) : 0);
    }

    // It goes round where the step from its last frame to its first is none that stands out from those around it.
    private static bool GoesRound(ISoundReader sound, int begin, int end)
    {
        var near = Math.Min(64, (end - begin) / 2);
        Span<float> left = stackalloc float[2 * near], right = stackalloc float[2 * near];
        var isStereo = sound.Channels == 2;
        sound.Copy(end - near, left[..near], isStereo ? right[..near] : default);
        sound.Copy(begin, left[near..], isStereo ? right[near..] : default);
        return Fits(left) && (!isStereo || Fits(right));

        bool Fits(ReadOnlySpan<float> samples)
        {
            // By second differences: of what goes on smoothly, they stay as small as they are.
            var (usual, seam) = (0f, 0f);
            for (var i = 1; i < samples.Length - 1; i++)
            {
                var bend = Math.Abs(samples[i - 1] - (2 * samples[i]) + samples[i + 1]);
                if (i == near - 1 || i == near)
                {
                    seam = Math.Max(seam, bend);
                }
                else
                {
                    usual = Math.Max(usual, bend);
                }
            }

            return seam <= (1.5f * usual) + 1e-5f;
        }
    }
}
