using Kinetra.Core.Dsp;
using Kinetra.Core.Engine;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Pads;

/// <summary>What the player is told to do, at which frame.</summary>
/// <param name="frame">The engine's frame; what is past already: at the next block.</param>
public abstract class PadOrder(long frame) : TimedOrder(frame)
{
    /// <summary>A pad is pressed.</summary>
    /// <param name="frame">When.</param>
    /// <param name="pad">Which one, as it is then.</param>
    /// <param name="reader">Reads its sound, for this press alone.</param>
    /// <param name="inlet">Through which source it is heard.</param>
    /// <param name="level">A factor on top of its own gain: how hard it was struck.</param>
    /// <param name="keeps">What must be kept for as long as it sounds.</param>
    public sealed class Press(long frame, ReadyPad pad, ISoundReader reader, PadInlet inlet, float level = 1, object? keeps = null) : PadOrder(frame)
    {
        /// <summary>Which one, as it is then.</summary>
        public ReadyPad Pad => pad;

        /// <summary>What is kept for as long as it sounds.</summary>
        public object? Keeps => keeps;

        internal ISoundReader Reader => reader;

        internal PadInlet Inlet => inlet;

        internal float Level => level;
    }

    /// <summary>The key of a pad goes up: one that plays while it is held fades out. Of others, nothing.</summary>
    /// <param name="frame">When.</param>
    /// <param name="pad">Which one.</param>
    public sealed class Release(long frame, PadId pad) : PadOrder(frame)
    {
        internal PadId Pad => pad;
    }

    /// <summary>What sounds of a pad fades out.</summary>
    /// <param name="frame">When.</param>
    /// <param name="pad">Which one; null: all.</param>
    /// <param name="group">Those of a group; null: whatever group.</param>
    /// <param name="fade">How long, frames; null: each as its pad says.</param>
    public sealed class Stop(long frame, PadId? pad = null, string? group = null, int? fade = null) : PadOrder(frame)
    {
        internal PadId? Pad => pad;

        internal string? Group => group;

        internal int? Fade => fade is null ? null : Math.Max(fade.Value, ReadyPad.ShortestOut);
    }

    /// <summary>What sounds of a pad gets another level.</summary>
    /// <param name="frame">When it begins to.</param>
    /// <param name="pad">Which one; null: all.</param>
    /// <param name="level">The factor that stands in place of the pad's gain.</param>
    /// <param name="over">How long it takes, frames.</param>
    public sealed class Turn(long frame, PadId? pad, float level, int over = Fade.Frames) : PadOrder(frame)
    {
        internal PadId? Pad => pad;

        internal float Level => level;

        internal int Over => Math.Max(over, Fade.Frames);
    }
}
