using Kinetra.Core.Dsp;
using Kinetra.Core.Engine;

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
/// <param name="Clips">How often any channel reaches full scale; samples in a row count once.</param>
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
    double DcOffset,
    double? Correlation);

/// <summary>
/// Measures a recording of any rate and any number of channels as it comes. Samples, RMS, offset, clips and correlation are of
/// the samples as they are; loudness and true peak are measured at 48 kHz, to which other rates are converted. Channels count
/// alike, but for six of them, taken as left, right, centre, low frequencies, left and right surround: the fourth does not count
/// and the last two count by 1.41 (BS.1770-5, table 3).
/// </summary>
public sealed class Measurement
{
    private const int WindowsPerSecond = 10;
    private const double FloorShare = 0.05;
    private const double Surround = 1.41;

    private readonly int _rate;
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
    public Measurement(int channels, int rate)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(channels, 1);
        _rate = rate;
        _windowFrames = rate / WindowsPerSecond;
        _channels = [.. Enumerable.Range(0, channels).Select(c => new Channel(rate, Weight(c, channels)))];
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
        // What is still on its way through the resamplers and interpolators.
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
            _frames == 0 ? 0 : _channels.Select(c => c.Sum / _frames).MaxBy(Math.Abs),
            power > 0 ? Math.Clamp(_products / power, -1, 1) : null);
    }

    private static double Weight(int channel, int channels) => (channels, channel) switch
    {
        (6, 3) => 0,
        (6, 4 or 5) => Surround,
        _ => 1,
    };

    private static double? OrNull(double value) => double.IsFinite(value) ? value : null;

    // All channels have as many frames at 48 kHz.
    private void Loudness()
    {
        for (var left = _channels[0].Waiting.Length; left > 0;)
        {
            var part = Math.Min(left, Hop.Frames - _hopFrames);
            foreach (var channel in _channels)
            {
                _hopEnergy += channel.Take(part);
            }

            left -= part;
            _hopFrames += part;
            if (_hopFrames == Hop.Frames)
            {
                CloseHop();
            }
        }
    }

    private void CloseHop()
    {
        _energy.Push(_hopEnergy);
        (_hopEnergy, _hopFrames) = (0, 0);
        _hops++;
        var momentary = Level.FromKWeighted(_energy.Sum(Hop.Momentary) / (Hop.Momentary * Hop.Frames));
        var shortTerm = Level.FromKWeighted(_energy.Sum(Hop.ShortTerm) / (Hop.ShortTerm * Hop.Frames));

        // Windows that reach back before the beginning are not whole ones.
        _maxMomentary = _hops >= Hop.Momentary ? Math.Max(_maxMomentary, momentary) : _maxMomentary;
        _maxShortTerm = _hops >= Hop.ShortTerm ? Math.Max(_maxShortTerm, shortTerm) : _maxShortTerm;
        _programme.CloseHop(momentary, shortTerm);
    }

    private sealed class Channel(int rate, double weight)
    {
        private readonly RateConverter? _converter = rate == AudioFormat.SampleRate ? null : new RateConverter(rate, AudioFormat.SampleRate);
        private readonly PeakInterpolator _interpolator = new();
        private readonly ClipCounter _clips = new();
        private readonly float[] _peaks = new float[AudioFormat.BlockFrames];
        private float[] _converted = [];
        private int _count;
        private int _taken;
        private KWeighting _weighting;

        public double Squares { get; private set; }

        public double Sum { get; private set; }

        public float Peak { get; private set; }

        public float TruePeak { get; private set; }

        public long Clips => _clips.Clips;

        public ReadOnlySpan<float> Waiting => _converted.AsSpan(_taken, _count - _taken);

        public void Add(ReadOnlySpan<float> samples)
        {
            _clips.Add(samples);
            foreach (var sample in samples)
            {
                Squares += (double)sample * sample;
                Sum += sample;
                Peak = Math.Max(Peak, Math.Abs(sample));
            }

            Convert(samples);
        }

        public void Finish()
        {
            if (_converter is not null)
            {
                Convert(new float[_converter.Tail]);
            }

            Interpolate(new float[_interpolator.Latency + 1]);
        }

        // The weighted energy of the next frames.
        public double Take(int frames)
        {
            var sum = _weighting.SumOfSquares(_converted.AsSpan(_taken, frames));
            _taken += frames;
            return weight * sum;
        }

        private void Convert(ReadOnlySpan<float> samples)
        {
            var room = _converter?.MostFrom(samples.Length) ?? samples.Length;
            if (_converted.Length < room)
            {
                _converted = new float[room];
            }

            if (_converter is null)
            {
                samples.CopyTo(_converted);
                _count = samples.Length;
            }
            else
            {
                _count = _converter.Process(samples, _converted);
            }

            _taken = 0;
            Interpolate(Waiting);
        }

        // Between the samples, and at them.
        private void Interpolate(ReadOnlySpan<float> samples)
        {
            TruePeak = Math.Max(TruePeak, Peak);
            while (!samples.IsEmpty)
            {
                var part = samples[..Math.Min(samples.Length, _peaks.Length)];
                _interpolator.Process(part, _peaks.AsSpan(0, part.Length));
                TruePeak = Math.Max(TruePeak, System.Numerics.Tensors.TensorPrimitives.Max<float>(_peaks.AsSpan(0, part.Length)));
                samples = samples[part.Length..];
            }
        }
    }
}
