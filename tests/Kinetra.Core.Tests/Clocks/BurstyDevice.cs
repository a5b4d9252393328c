namespace Kinetra.Core.Tests.Clocks;

/// <summary>
/// A device whose clock runs off by some ppm, and whose frames come in bursts that are late by chance: 128 frames at a time,
/// sent each 10 ms, delayed by up to 8 ms, now and then by 15 ms. Times in frames of our own clock.
/// </summary>
sealed class BurstyDevice(double partsPerMillion, int seed)
{
    private const double BurstEvery = 480;
    private readonly Random _random = new(seed);
    private readonly Queue<(double Arrives, long End)> _underway = new();
    private double _nextBurst = BurstEvery;
    private double _lastArrival;

    /// <summary>From here on, nothing arrives before <see cref="StallUntil"/>.</summary>
    public double StallFrom { get; set; } = double.PositiveInfinity;

    public double StallUntil { get; set; }

    /// <summary>True: the device itself stands still in the stall. False: only the way does.</summary>
    public bool ClockStalls { get; init; }

    /// <summary>Frames that it has made by a time.</summary>
    public double Made(double own)
    {
        var lost = ClockStalls && own > StallFrom ? Math.Min(own, StallUntil) - StallFrom : 0;
        return (own - lost) * (1 + (partsPerMillion * 1e-6));
    }

    /// <summary>All that has arrived by a time: up to which frame, and when.</summary>
    public IEnumerable<(long End, double At)> ArrivedBy(double own)
    {
        for (; _nextBurst <= own; _nextBurst += BurstEvery)
        {
            var delay = _random.NextDouble() < 0.002 ? 720 : 20 + (384 * _random.NextDouble());
            var arrives = _nextBurst + delay;
            if (arrives > StallFrom && arrives < StallUntil)
            {
                arrives = StallUntil;
            }

            _lastArrival = Math.Max(_lastArrival, arrives);
            _underway.Enqueue((_lastArrival, (long)(Made(_nextBurst) / 128) * 128));
        }

        while (_underway.TryPeek(out var first) && first.Arrives <= own)
        {
            _underway.Dequeue();
            yield return (first.End, first.Arrives);
        }
    }
}
