namespace Kinetra.Core.Clocks;

/// <summary>
/// Learns how another clock stands against our own, from when its frames arrived here. A frame can arrive late, in bursts or
/// after a stall, but never early: so of each half second the earliest arrival is taken, and a line is laid through those by
/// an α-β filter whose memory grows to 50 s. Units: frames of each clock. Not safe for several threads.
/// Source: E. Brookner, <em>Tracking and Kalman Filtering Made Easy</em>, 1998, chapter 1 (growing-memory α-β filter).
/// </summary>
public sealed class ClockTracker
{
    /// <summary>A clock that is further off than this is held to it: 1 000 ppm.</summary>
    public const double MaxRate = 1e-3;

    private const double WindowFrames = 24_000;
    private const int FirstMemory = 4;
    private const int SettledMemory = 40;
    private const int MaxMemory = 100;

    // Off by more than this, 5 ms, is no jitter: the other side stood still, or has started over.
    private const double StepFrames = 240;

    private double _ahead;
    private double _rate;
    private double _at;
    private double _windowStart;
    private double _best = double.NegativeInfinity;
    private int _memory;
    private int _offWindows;

    /// <summary>True once anything has arrived.</summary>
    public bool IsKnown { get; private set; }

    /// <summary>True once the rate means something: after twenty seconds of arrivals.</summary>
    public bool IsSettled => _memory >= SettledMemory;

    /// <summary>By how much the other clock runs fast: 1e-6 is 1 ppm.</summary>
    public double Rate => _rate;

    /// <summary>The other clock's frame that arrives at this time of ours, when nothing delays it.</summary>
    public double At(double own) => own + _ahead + (_rate * (own - _at));

    /// <summary>All frames before <paramref name="other"/> had arrived at the time <paramref name="own"/>. Times do not go back.</summary>
    public void Observe(double other, double own)
    {
        if (!IsKnown)
        {
            IsKnown = true;
            Restart(other - own, own);
            return;
        }

        if (own - _windowStart >= WindowFrames)
        {
            Close(own);
        }

        var early = other - At(own);
        if (early > StepFrames || (_memory == 0 && early > 0))
        {
            // Nothing arrives before it was made: the line was wrong, and is laid anew from here.
            _ahead += early;
            _best = 0;
            _memory = Math.Min(_memory, FirstMemory);
            return;
        }

        _best = Math.Max(_best, early);
    }

    private void Restart(double ahead, double own)
    {
        _ahead = ahead;
        _at = own;
        _windowStart = own;
        _best = double.NegativeInfinity;
        _memory = 0;
        _offWindows = 0;
    }

    private void Close(double own)
    {
        var best = _best;
        var length = own - _windowStart;
        _ahead += _rate * (own - _at);
        _at = own;
        _windowStart = own;
        _best = double.NegativeInfinity;
        if (double.IsNegativeInfinity(best))
        {
            // Nothing came: the clock is taken to go on as it did.
            return;
        }

        _offWindows = best < -StepFrames ? _offWindows + 1 : 0;
        if (_offWindows == 1)
        {
            // One bad half second is a stall on the way; two are a step of the clock itself.
            return;
        }

        if (_offWindows > 1)
        {
            var rate = _rate;
            Restart(_ahead + best, own);
            _rate = rate;
            return;
        }

        _memory = _memory == 0 ? FirstMemory : Math.Min(_memory + 1, MaxMemory);
        double n = _memory;
        var alpha = 2 * ((2 * n) + 1) / ((n + 1) * (n + 2));
        var beta = 6 / ((n + 1) * (n + 2));
        _ahead += alpha * best;
        _rate = Math.Clamp(_rate + (beta * best / length), -MaxRate, MaxRate);
    }
}
