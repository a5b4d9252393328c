using Kinetra.Core.Signal;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.Pads;

/// <summary>Which hands hold which pads: one that goes lets go of what it held, so that nothing sounds on that nobody can end. Any thread.</summary>
public sealed class HeldPads(PadBank bank)
{
    private readonly Lock _holding = new();
    private readonly Dictionary<string, HashSet<PadId>> _held = [];

    /// <summary>A hand presses a pad.</summary>
    public PadSilence Press(string hand, PadId pad, float level)
    {
        var silence = bank.Press(pad, level);
        if (silence == PadSilence.None)
        {
            lock (_holding)
            {
                (_held.TryGetValue(hand, out var held) ? held : _held[hand] = []).Add(pad);
            }
        }

        return silence;
    }

    /// <summary>A hand lets go of a pad.</summary>
    public void Release(string hand, PadId pad)
    {
        lock (_holding)
        {
            if (_held.TryGetValue(hand, out var held))
            {
                held.Remove(pad);
            }
        }

        bank.Release(pad);
    }

    /// <summary>True where a hand has pressed a pad and not let it go.</summary>
    public bool Holds(string hand, PadId pad)
    {
        lock (_holding)
        {
            return _held.TryGetValue(hand, out var held) && held.Contains(pad);
        }
    }

    /// <summary>A hand is gone.</summary>
    public void Gone(string hand)
    {
        HashSet<PadId>? held;
        lock (_holding)
        {
            _held.Remove(hand, out held);
        }

        foreach (var pad in held ?? [])
        {
            bank.Release(pad);
        }
    }
}
