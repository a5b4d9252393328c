using Kinetra.Core.Signal;

namespace Kinetra.Core.Processors;

/// <summary>Times as what a recursion needs.</summary>
static class Ballistics
{
    /// <summary>How much of what was a one-pole keeps with each frame, for a time constant in ms: after it, 1/e is left.</summary>
    public static double Memory(double milliseconds) => Math.Exp(-1 / Frames(milliseconds));

    /// <summary>Milliseconds in frames.</summary>
    public static double Frames(double milliseconds) => milliseconds * AudioFormat.SampleRate / 1000;

    /// <summary>Milliseconds in frames, to the nearest.</summary>
    public static int WholeFrames(double milliseconds) => (int)Math.Round(Frames(milliseconds));

    /// <summary>Decibels as a factor.</summary>
    public static double Factor(double decibels) => Math.Pow(10, decibels / 20);
}
