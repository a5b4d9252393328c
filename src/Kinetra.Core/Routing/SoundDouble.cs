using Kinetra.Core.Signal;

namespace Kinetra.Core.Routing;

/// <summary>A sound that comes to a listener by a second way; what is said of their sum is so as long as neither is upside down.</summary>
/// <param name="Louder">The louder way.</param>
/// <param name="Other">The other one.</param>
public sealed record SoundDouble(SoundPath Louder, SoundPath Other)
{
    /// <summary>From this difference on it is heard as an echo, ms.</summary>
    public const double EchoMilliseconds = 30;

    /// <summary>By how much the other one comes later, ms; negative: earlier.</summary>
    public double DelayMilliseconds => (Other.DelayFrames - Louder.DelayFrames) * 1_000.0 / AudioFormat.SampleRate;

    /// <summary>By how much it is louder, dB: 0 or less.</summary>
    public double LevelDecibels => Other.GainDecibels - Louder.GainDecibels;

    /// <summary>True where it is heard as an echo.</summary>
    public bool IsEcho => Math.Abs(DelayMilliseconds) > EchoMilliseconds;

    /// <summary>By how much both are louder than the louder one alone where they are in step, dB: 6 at most.</summary>
    public double CoherentDecibels => 20 * Math.Log10(1 + Ratio);

    /// <summary>The lowest frequency at which they work against one another, Hz: 1/(2Δt); null: they come at the same time.</summary>
    public double? NotchHertz => DelayMilliseconds == 0 ? null : 500 / Math.Abs(DelayMilliseconds);

    /// <summary>By how much less than of the louder one alone is left there, dB; −∞: nothing.</summary>
    public double NotchDecibels => 20 * Math.Log10(1 - Ratio);

    private double Ratio => Math.Pow(10, LevelDecibels / 20);
}
