using Kinetra.Core.Signal;

namespace Kinetra.Gear;

/// <summary>Stands where a device or a sound is missing: mono, exact silence.</summary>
public sealed class SilentInlet : IInlet
{
    /// <inheritdoc/>
    public int Channels => 1;

    /// <inheritdoc/>
    public bool BeginsWithSource => true;

    /// <inheritdoc/>
    public void Read(long frame, Span<float> left, Span<float> right) => left.Clear();

    /// <inheritdoc/>
    public void Restart()
    {
    }
}
