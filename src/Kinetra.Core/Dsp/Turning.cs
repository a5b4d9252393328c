using System.Runtime.CompilerServices;

namespace Kinetra.Core.Dsp;

/// <summary>
/// Sines of a phase that turns evenly: each from the one before by a rotation, which costs two multiplications for each of sine
/// and cosine; begun anew from the phase itself with each call, so that nothing adds up (256 turns: below 10⁻¹³).
/// </summary>
static class Turning
{
    /// <summary>Writes <c>sin(phase), sin(phase + step), …</c> and moves the phase on by as many steps.</summary>
    /// <param name="sines">As many as are wanted; at most some thousands.</param>
    /// <param name="phase">Radians; afterwards that of the next one, less whole turns.</param>
    /// <param name="step">Radians.</param>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static void Sines(Span<double> sines, ref double phase, double step)
    {
        var (sine, cosine) = Math.SinCos(phase);
        var (stepSine, stepCosine) = Math.SinCos(step);
        foreach (ref var value in sines)
        {
            value = sine;
            (sine, cosine) = ((sine * stepCosine) + (cosine * stepSine), (cosine * stepCosine) - (sine * stepSine));
        }

        phase = (phase + (sines.Length * step)) % (2 * Math.PI);
    }
}
