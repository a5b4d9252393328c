using Kinetra.Core.Engine;

namespace Kinetra.Core.Voice;

/// <summary>What goes round beside a loop: those who speak over a bed.</summary>
/// <param name="Key">As they leave their chains: what a processor hears that listens to them.</param>
/// <param name="Heard">As they are heard over the loop: where a mix turns them up or down, by how much more than the loop.</param>
public sealed record SoundBeside(SoundBuffer Key, SoundBuffer Heard)
{
    /// <summary>No mix turns anybody up or down.</summary>
    public SoundBeside(SoundBuffer sound)
        : this(sound, sound)
    {
    }
}
