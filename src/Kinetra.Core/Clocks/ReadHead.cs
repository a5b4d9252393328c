namespace Kinetra.Core.Clocks;

/// <summary>What to read for one block.</summary>
/// <param name="Sounds">True: read from <paramref name="Position"/> on. False: there is nothing.</param>
/// <param name="Begins">True: with this block the sound begins, or begins again.</param>
/// <param name="Ends">True: the sound has broken off with the block before.</param>
/// <param name="Position">The other clock's frame of the block's first frame.</param>
/// <param name="Step">Frames of the other clock for each of ours, near 1.</param>
public readonly record struct ReadStep(bool Sounds, bool Begins, bool Ends, double Position, double Step);

/// <summary>
/// Steers where sound of another clock is read, so that it stays behind its arrival by a fixed latency: never dropping or
/// repeating a frame, only by running slightly faster or slower. Where it runs dry, it counts a gap and begins again in its
/// right place. Not safe for several threads.
/// </summary>
/// <param name="targetFrames">
/// The latency to hold, frames: enough for a burst, a block and the usual jitter of the way. Where the way is worse than that,
/// so that the sound breaks off twice within ten seconds, it holds as much more as would have helped, up to
/// <see cref="MostMore"/>; once ten seconds have shown that it is not needed, it gives it back, 5 ms at a time.
/// </param>
public sealed class ReadHead(double targetFrames)
{
    // What is heard first may still be early or late: wait for a tenth of a second of arrivals.
    private const double FirstLook = 4_800;

    // Off by more than this, 10 ms, it starts over in the right place instead of running after it.
    private const double MaxOff = 480;

    // An error is worked off within a few seconds, at 2 000 ppm at most: 3.5 cents of pitch. The speed itself changes over a
    // quarter of that time (critically damped), or its changes would be heard as noise beside a tone.
    private const double SettleFrames = 48_000;
    private const double SpeedFrames = SettleFrames / 4;
    private const double MaxSlew = 2e-3;

    /// <summary>The most that is added to the latency for a bad way, frames: 40 ms.</summary>
    public const double MostMore = 1_920;

    private const double MoreEach = 240;

    // Twice within these ten seconds is a bad way; so long without need, a good one. While the clock is first learnt, neither
    // says anything of the way.
    private const double SoonFrames = 480_000;

    // What is left over when some latency is given back, 2 ms: the next ten seconds are not quite as those before.
    private const double Spare = 96;

    private ClockTracker _clock = new();
    private double _more;
    private double _lastGap = double.NegativeInfinity;
    private double _dryFrom = double.NaN;
    private bool _oftenDry;
    private double _lookFrom;
    private double _leastSpare;
    private double _position;
    private double _slew;
    private double _firstSeen = double.NaN;
    private bool _playing;

    /// <summary>How often the sound broke off.</summary>
    public long Gaps { get; private set; }

    /// <summary>Frames by which the reading now lies behind the earliest arrival; NaN while nothing sounds.</summary>
    public double Latency { get; private set; } = double.NaN;

    /// <summary>The latency that it holds, frames.</summary>
    public double Target => targetFrames + _more;

    /// <summary>By how much the other clock runs fast, ppm; NaN while that is being learnt.</summary>
    public double PartsPerMillion => _clock.IsSettled ? _clock.Rate * 1e6 : double.NaN;

    /// <summary>Frames before <paramref name="other"/> of the other clock had arrived at the time <paramref name="own"/> of ours.</summary>
    public void Observe(double other, double own)
    {
        if (!_clock.IsKnown)
        {
            _firstSeen = own;
        }

        _clock.Observe(other, own);
    }

    /// <summary>The other side starts over: its clock is learnt anew.</summary>
    public void Rejoin() => (_clock, _more) = (new ClockTracker(), 0);

    /// <summary>Decides on the next block.</summary>
    /// <param name="own">Our frame that it begins with.</param>
    /// <param name="frames">Its length.</param>
    /// <param name="oldest">The other clock's oldest frame that can still be read.</param>
    /// <param name="available">The other clock's frame before which all can be read.</param>
    public ReadStep Next(long own, int frames, double oldest, double available)
    {
        if (!_clock.IsKnown || own - _firstSeen < FirstLook)
        {
            return _playing ? BreakOff(own, dry: false) : default;
        }

        var wanted = _clock.At(own) - Target;
        var begins = false;
        if (!_playing)
        {
            if (wanted < oldest || wanted + frames > available)
            {
                return default;
            }

            begins = true;
            HoldMore(own);
            wanted = Math.Max(oldest, _clock.At(own) - Target);
            _position = wanted;
            _slew = _clock.Rate;
            _playing = true;
        }

        var off = wanted - _position;
        var speed = _clock.Rate + Math.Clamp(off / SettleFrames, -MaxSlew, MaxSlew);
        _slew += (speed - _slew) * frames / SpeedFrames;
        var step = 1 + _slew;
        var end = _position + (step * frames);
        if (end > available || _position < oldest || Math.Abs(off) > MaxOff)
        {
            return BreakOff(own, dry: end > available);
        }

        GiveBack(own, available - end);

        var reading = new ReadStep(true, begins, false, _position, step);
        Latency = _clock.At(own) - _position;
        _position = end;
        return reading;
    }

    private ReadStep BreakOff(long own, bool dry)
    {
        _playing = false;
        Latency = double.NaN;
        Gaps++;
        _oftenDry = own - _lastGap < SoonFrames && own - _firstSeen > SoonFrames;
        _lastGap = own;
        _dryFrom = dry ? own : double.NaN;
        return new ReadStep(false, false, Ends: true, 0, 1);
    }

    // It was dry for as long as more latency would have bridged. A stall that no latency bridges is no reason for any.
    private void HoldMore(long own)
    {
        var dryFor = own - _dryFrom;
        if (_oftenDry && dryFor <= MostMore)
        {
            _more = Math.Min(MostMore, _more + Math.Max(MoreEach, dryFor));
        }

        _dryFrom = double.NaN;
        (_lookFrom, _leastSpare) = (own, double.PositiveInfinity);
    }

    private void GiveBack(long own, double spare)
    {
        _leastSpare = Math.Min(_leastSpare, spare);
        if (own - _lookFrom >= SoonFrames)
        {
            _more -= Math.Clamp(_leastSpare - Spare, 0, Math.Min(_more, MoreEach));
            (_lookFrom, _leastSpare) = (own, double.PositiveInfinity);
        }
    }
}
