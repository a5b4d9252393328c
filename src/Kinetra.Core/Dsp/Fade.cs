namespace Kinetra.Core.Dsp;

/// <summary>
/// The shape of every change that must not be heard as one: the quintic 6t⁵ − 15t⁴ + 10t³ over 10.7 ms at 48 kHz, whose first
/// and second derivatives vanish at both ends, so what the change adds to the sound falls with the cube of the frequency.
/// </summary>
public static class Fade
{
    /// <summary>Length of a change, frames.</summary>
    public const int Frames = 512;

    private static readonly float[] Values = Make();

    /// <summary>How far the change has come after its 1st, 2nd … last frame: above 0 … 1.</summary>
    public static ReadOnlySpan<float> Curve => Values;

    /// <summary>How far a change of another length has come, at a part of it: 0 … 1.</summary>
    public static float At(float part) => part * part * part * ((part * ((6 * part) - 15)) + 10);

    private static float[] Make()
    {
        var curve = new float[Frames];
        for (var i = 0; i < Frames; i++)
        {
            var t = (i + 1.0) / Frames;
            curve[i] = (float)(t * t * t * ((t * ((6 * t) - 15)) + 10));
        }

        return curve;
    }
}
