using System.Collections.Immutable;
using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Metering;

/// <summary>What a whole recording measures. What silence does not have is null.</summary>
/// <param name="Seconds">Its length.</param>
/// <param name="IntegratedLufs">Integrated loudness, LUFS (BS.1770-5).</param>
/// <param name="LoudnessRangeLu">Loudness range, LU (EBU Tech 3342); of less than 3 s, null.</param>
/// <param name="MaxMomentaryLufs">The loudest 400 ms, LUFS.</param>
/// <param name="MaxShortTermLufs">The loudest 3 s, LUFS.</param>
/// <param name="TruePeakDbtp">True peak of the loudest channel, dBTP.</param>
/// <param name="SamplePeakDbfs">Largest sample, dBFS.</param>
/// <param name="RmsDbfs">RMS of the whole, dBFS after AES17, mean of the channels' powers.</param>
/// <param name="NoiseFloorDbfs">An estimate of what is there in pauses: the RMS, dBFS, that a twentieth of all windows of 100 ms do not exceed; windows of digital silence apart.</param>
/// <param name="Clips">How often any channel reaches its format's full scale, above or below; samples in a row count once.</param>
/// <param name="FlatTops">How often any channel was cut off flat below that: three or more samples alike, at −20 dBFS or above, that the sound comes to and leaves by a leap.</param>
/// <param name="DcOffset">Mean of the channel where it is largest, as a part of full scale: −1 … 1.</param>
/// <param name="Correlation">Of a stereo recording, how alike both sides are: −1 … 1.</param>
public sealed record Measured(
    double Seconds,
    double? IntegratedLufs,
    double? LoudnessRangeLu,
    double? MaxMomentaryLufs,
    double? MaxShortTermLufs,
    double? TruePeakDbtp,
    double? SamplePeakDbfs,
    double? RmsDbfs,
    double? NoiseFloorDbfs,
    long Clips,
    long FlatTops,
    double DcOffset,
    double? Correlation);

/// <summary>
/// Measures a recording of any rate and any number of channels as it comes, at its own rate: K-weighting is designed for it, and true peaks
/// are sought at eight times it. Channels count as their <see cref="Speaker"/> says.
/// </summary>
public sealed class Measurement
{
    private const int WindowsPerSecond = 10;
    private const double FloorShare = 0.05;

    private readonly int _rate;
    private readonly BiquadCoefficients _shelf;
    private readonly BiquadCoefficients _rollOff;
    private readonly Channel[] _channels;
    private readonly ProgrammeLoudness _programme = new();
    private readonly HopWindow _energy = new(Hop.ShortTerm);
    private readonly List<float> _windows = [];
    private readonly int _windowFrames;
    private double _hopEnergy;
    private int _hopFrames;
    private int _hops;
    private double _windowSquares;
    private int _windowFilled;
    private double _products;
    private long _frames;
    private double _maxMomentary = double.NegativeInfinity;
    private double _maxShortTerm = double.NegativeInfinity;

    /// <summary>Makes one that has heard nothing.</summary>
    /// <param name="channels">1 or more.</param>
    /// <param name="rate">Hz, <see cref="RateConverter.LowestRate"/> … <see cref="RateConverter.HighestRate"/>.</param>
    /// <param name="speakers">Where each channel is heard from; left out: nothing is known.</param>
    /// <param name="fullScale">The largest positive sample that the format can hold: 1, or what a whole number of some bits leaves of it.</param>
    public Measurement(int channels, int rate, ImmutableArray<Speaker> speakers = default, float fullScale = 1)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(channels, 1);
        _rate = rate;
        (_shelf, _rollOff) = KWeighting.At(rate);
        var heard = speakers.IsDefault ? Speakers.Unknown(channels) : speakers;
        _windowFrames = rate / WindowsPerSecond;
        _channels = [.. Enumerable.Range(0, channels).Select(c => new Channel(Speakers.Weight(heard[c]), fullScale))];
    }

    /// <summary>Takes in the next frames, planar.</summary>
    /// <param name="planes">One array for each channel; what is not finite in them is made so (<see cref="SampleGuard"/>).</param>
    /// <param name="frames">How many frames of each.</param>
    public void Add(IReadOnlyList<float[]> planes, int frames)
    {
        ArgumentNullException.ThrowIfNull(planes);
        _frames += frames;
        for (var c = 0; c < _channels.Length; c++)
        {
            SampleGuard.MakeFinite(planes[c].AsSpan(0, frames));
            _channels[c].Add(planes[c].AsSpan(0, frames));
        }

        for (var n = 0; n < frames; n++)
        {
            foreach (var plane in planes)
            {
                _windowSquares += (double)plane[n] * plane[n];
            }

            if (++_windowFilled == _windowFrames)
            {
                _windows.Add((float)(_windowSquares / _channels.Length / _windowFrames));
                (_windowSquares, _windowFilled) = (0, 0);
            }
        }

        if (_channels.Length == 2)
        {
            for (var n = 0; n < frames; n++)
            {
                _products += (double)planes[0][n] * planes[1][n];
            }
        }

        Loudness();
    }

    /// <summary>What all of it measures. Nothing may be added after it.</summary>
    public Measured Finish()
    {
        // What is still on its way through the interpolators.
        foreach (var channel in _channels)
        {
            channel.Finish();
        }

        Loudness();
        var squares = _channels.Sum(c => c.Squares);
        var sounding = _windows.Where(w => w > 0).Order().ToArray();
        var power = _channels.Length == 2 ? Math.Sqrt(_channels[0].Squares * _channels[1].Squares) : 0;
        return new Measured(
            (double)_frames / _rate,
            OrNull(_programme.Integrated),
            double.IsFinite(_programme.Integrated) && _hops >= Hop.ShortTerm ? _programme.Range : null,
            OrNull(_maxMomentary),
            OrNull(_maxShortTerm),
            OrNull(Level.FromPeak(_channels.Max(c => c.TruePeak))),
            OrNull(Level.FromPeak(_channels.Max(c => c.Peak))),
            _frames == 0 ? null : OrNull(Level.FromMeanSquare(squares / (_frames * _channels.Length))),
            sounding.Length == 0 ? null : OrNull(Level.FromMeanSquare(sounding[(int)(FloorShare * (sounding.Length - 1))])),
            _channels.Sum(c => c.Clips),
            _channels.Sum(c => c.FlatTops),
            _frames == 0 ? 0 : _channels.Select(c => c.Sum / _frames).MaxBy(Math.Abs),
            power > 0 ? Math.Clamp(_products / power, -1, 1) : null);
    }

    private static double? OrNull(double value) => double.IsFinite(value) ? value : null;

    // Fifty hops a second, whatever the rate: each ends at the frame nearest before its time.
    private void Loudness()
    {
        for (var left = _channels[0].Waiting; left > 0;)
        {
            var room = (int)(((_hops + 1L) * _rate / Hop.PerSecond) - (_hops * (long)_rate / Hop.PerSecond));
            var part = Math.Min(left, room - _hopFrames);
            foreach (var channel in _channels)
            {
                _hopEnergy += channel.Take(part, _shelf, _rollOff);
            }

            left -= part;
            _hopFrames += part;
            if (_hopFrames == room)
            {
                CloseHop();
            }
        }
    }

    private void CloseHop()
    {
        // As energy of 48 000 frames a second.
        _energy.Push(_hopEnergy * Hop.Frames / _hopFrames);
        (_hopEnergy, _hopFrames) = (0, 0);
        _hops++;
        var momentary = Level.FromKWeighted(_energy.Sum(Hop.Momentary) / (Hop.Momentary * Hop.Frames));
        var shortTerm = Level.FromKWeighted(_energy.Sum(Hop.ShortTerm) / (Hop.ShortTerm * Hop.Frames));

        // Windows that reach back before the beginning are not whole ones.
        _maxMomentary = _hops >= Hop.Momentary ? Math.Max(_maxMomentary, momentary) : _maxMomentary;
        _maxShortTerm = _hops >= Hop.ShortTerm ? Math.Max(_maxShortTerm, shortTerm) : _maxShortTerm;
        _programme.CloseHop(momentary, shortTerm);
    }

    private sealed class Channel(double weight, float fullScale)
    {
        private readonly PeakInterpolator _interpolator = new();
        private readonly ClipCounter _clips = new(fullScale);
        private readonly FlatTopCounter _flatTops = new(fullScale);
        private float[] _waiting = [];
        private int _count;
        private int _taken;
        private KWeighting _weighting;

        public double Squares { get; private set; }

        public double Sum { get; private set; }

        public float Peak { get; private set; }

        public float TruePeak { get; private set; }

        public long Clips => _clips.Clips;

        public long FlatTops => _flatTops.Count;

        /// <summary>Frames that were added and not weighed yet.</summary>
        public int Waiting => _count - _taken;

        public void Add(ReadOnlySpan<float> samples)
        {
            _clips.Add(samples);
            _flatTops.Add(samples);
            foreach (var sample in samples)
            {
                Squares += (double)sample * sample;
                Sum += sample;
                Peak = Math.Max(Peak, Math.Abs(sample));
            }

            if (_waiting.Length < samples.Length)
            {
                _waiting = new float[samples.Length];
            }

            samples.CopyTo(_waiting);
            (_count, _taken) = (samples.Length, 0);
            Interpolate(samples);
        }

        public void Finish() => Interpolate(new float[_interpolator.Latency + 1]);

        // The weighted energy of the next frames.
        public double Take(int frames, in BiquadCoefficients shelf, in BiquadCoefficients rollOff)
        {
            var sum = _weighting.SumOfSquares(_waiting.AsSpan(_taken, frames), shelf, rollOff);
            _taken += frames;
            return weight * sum;
        }

        // Between the samples, and at them.
        private void Interpolate(ReadOnlySpan<float> samples)
        {
            TruePeak = Math.Max(TruePeak, Peak);
            while (!samples.IsEmpty)
            {
                var part = samples[..Math.Min(samples.Length, AudioFormat.BlockFrames)];
                TruePeak = _interpolator.Highest(part, TruePeak);
                samples = samples[part.Length..];
            }
        }
    }
}
