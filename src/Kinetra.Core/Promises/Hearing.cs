using System.Collections.Immutable;
using System.Numerics.Tensors;
using Kinetra.Core.Dsp;

namespace Kinetra.Core.Promises;

/// <summary>One channel of a source, as it was while somebody listened.</summary>
/// <param name="Source">A number that all channels of a source share.</param>
/// <param name="Samples">The newest <see cref="HeardSound.Kept"/>, the oldest first, at <see cref="HeardSound.Rate"/>.</param>
public sealed record Reference(int Source, float[] Samples);

/// <summary>A sound that came.</summary>
/// <param name="GainDecibels">By how much more power, dB, over all channels of the listener and the source.</param>
/// <param name="DelayMilliseconds">How late.</param>
public readonly record struct HeardArrival(double GainDecibels, double DelayMilliseconds);

/// <summary>What of one source was heard.</summary>
/// <param name="Source">Its number.</param>
/// <param name="Sounds">True where it sounded at all: else nothing can be said.</param>
/// <param name="Arrivals">What came of it, the loudest first; empty: nothing above the floor.</param>
/// <param name="FloorDecibels">What is softer than the source by more than this, dB (negative), would not have been found.</param>
public sealed record HeardSource(int Source, bool Sounds, ImmutableArray<HeardArrival> Arrivals, double FloorDecibels)
{
    /// <summary>The engine frame with which the last look ended that counts.</summary>
    public long Frame { get; init; }

    /// <summary>In how many looks that share no sound it came, each time as late.</summary>
    public int Times { get; init; } = 1;

    /// <summary>In how many looks that share no sound it came a second time, each time as far behind the first.</summary>
    public int TimesAgain { get; init; } = Arrivals.Length > 1 ? 1 : 0;
}

/// <summary>
/// What a listener really hears of each source: found in the samples alone, whatever is known of the routing.
/// </summary>
/// <remarks>
/// Sounds that came are found by correlating with each source what is not explained yet, over all delays from 0 to
/// <see cref="LatestMilliseconds"/>, each frequency weighted by how little else there is (the best linear detector in coloured noise: C. Knapp,
/// G. Carter, "The generalized correlation method for estimation of time delay", 1976). All that were found are then taken out together, by least
/// squares in bands of the short-time spectrum, each second anew (what of a source is left in the residual is its partial coherence: J. Bendat,
/// A. Piersol, <i>Random Data</i>), and what is left is looked through again: softer sounds, and the same sound by a second way. What chance would give is
/// read off all delays at which nothing came. docs/signal.md says to what floor. Not safe for several threads.
/// </remarks>
public sealed class Hearing
{
    /// <summary>The longest delay that is looked for, ms.</summary>
    public const double LatestMilliseconds = 1_000.0 * Lags / HeardSound.Rate;

    /// <summary>How much sound one look takes, seconds.</summary>
    public const double WindowSeconds = (double)(Length - Lags) / HeardSound.Rate;

    /// <summary>A peak of so many standard deviations is a sound that came: among millions of looks at none, chance gives no such peak.</summary>
    public const double Found = 9;

    /// <summary>What is softer than its source by more, dB, is not looked for: nobody hears it, and the rounding of numbers is near.</summary>
    public const double Finest = -70;

    /// <summary>A second way that is softer than the first by more, dB, is not told from what the first leaves behind.</summary>
    public const double SecondWithin = 36;

    private const int Length = HeardSound.Kept;
    private const int Lags = 16_384;
    private const int BlockFrames = 31;
    private const int MostRegressors = 24;
    private const int Sweeps = 3;

    // Delays within 2.5 ms are one way.
    private const int Near = 20;

    // A sixth of a second: long against a syllable's periods, short against a sentence.
    private const int Piece = 1_024;

    // What really came, came whenever the source sounded; what was alike by chance, in one vowel or one held note.
    private const double Steadily = 0.55;
    private const double EnoughPieces = 16;

    // What is taken out although it may be chance: taking out nothing costs little.
    private const double Suspected = 7;

    // Softer than this, dB, it may be what the source picked up of another that came.
    private const double MaybePickedUp = -25;

    // −74 dBFS on average: a source that is softer does not sound.
    private const double Audible = 4e-8;

    // 125 to 3375 Hz of the long spectrum: well inside of what is left of a sound of which others were taken out.
    private const int Low = Length / HeardSound.Rate * 125;
    private const int High = (int)((long)Length * 3_375 / HeardSound.Rate);

    private readonly FourierTransform _long = new(Length);
    private readonly FourierTransform _short = new(BandSpectrum.FrameLength);
    private readonly float[] _re = new float[Length];
    private readonly float[] _im = new float[Length];
    private readonly double[] _power = new double[High + 1];
    private readonly double[] _sums = new double[High + 2];
    private readonly float[] _white = new float[Length];
    private readonly float[] _sorted = new float[Lags / 8];
    private readonly Stack<float[]> _spectra = [];
    private readonly Stack<float[]> _sounds = [];
    private readonly Stack<BandSpectrum> _frames = [];
    private readonly Stack<BandSpectrum> _allFrames = [];
    private readonly Dictionary<(int Reference, int Lag), BandSpectrum> _lagged = [];
    private readonly Dictionary<int, LeastSquares> _squares = [];
    private ImmutableArray<Reference> _references = [];
    private float[]?[] _spectrumOf = [];
    private double[] _powerOf = [];
    private int[] _sources = [];

    /// <summary>From now on, these are the sources, until others are. Their samples are not changed while they are.</summary>
    public void Know(ImmutableArray<Reference> references)
    {
        foreach (var spectrum in _spectrumOf)
        {
            GiveBack(spectrum);
        }

        _references = references;
        _sources = [.. references.Select(r => r.Source).Distinct()];
        (_spectrumOf, _powerOf) = (new float[references.Length][], new double[references.Length]);
        Forget();
        for (var i = 0; i < references.Length; i++)
        {
            var power = Lagged(i, 0).Power();
            if (power > Audible * (Length - Lags))
            {
                (_powerOf[i], _spectrumOf[i]) = (power, SpectrumOf(references[i].Samples));
            }

            Forget();
        }
    }

    /// <summary>What came of each source.</summary>
    /// <param name="listener">The listener's channels, 1 or 2, at the same moment, each as long as a reference.</param>
    public ImmutableArray<HeardSource> Listen(params ReadOnlySpan<float[]> listener)
    {
        // What stands in both alike has twice the power.
        var isDoubled = listener.Length == 2 && listener[0].AsSpan().SequenceEqual(listener[1]);
        var channels = new float[isDoubled ? 1 : listener.Length][];
        for (var c = 0; c < channels.Length; c++)
        {
            channels[c] = listener[c];
        }

        try
        {
            var explained = Explain(channels);
            return [.. _sources.Select(source => Told(source, channels, explained, isDoubled ? 2 : 1))];
        }
        finally
        {
            Forget();
        }
    }

    private HeardSource Told(int source, float[][] channels, Explanation explained, int times)
    {
        var own = Enumerable.Range(0, _references.Length).Where(i => _references[i].Source == source && _powerOf[i] > 0).ToArray();
        if (own.Length == 0)
        {
            return new(source, false, [], 0);
        }

        var power = own.Sum(i => _powerOf[i]);
        var arrivals = ImmutableArray.CreateBuilder<HeardArrival>();
        var floor = own.Max(i => explained.Floors[i]) + (10 * Math.Log10(channels.Length * times));
        foreach (var (lag, taken, margin, pieces) in Together(explained.Regressors.Where(r => own.Contains(r.Reference))))
        {
            var gain = 10 * Math.Log10(Math.Max(taken * times / power, 1e-30));
            if (arrivals.Count > 0 && gain <= arrivals[0].GainDecibels - SecondWithin)
            {
                continue;
            }

            // The fewer pieces it rests on, the clearer it must be.
            var seen = margin;
            if (gain <= MaybePickedUp || margin <= 2 * Found)
            {
                (seen, var confirmed) = Confirm(source, own, channels, explained, lag);
                gain = gain <= MaybePickedUp && confirmed > 0 ? 10 * Math.Log10(confirmed * times / power) : gain;
            }

            if (gain < Finest)
            {
                continue;
            }

            if (seen >= Found * Math.Max(1, EnoughPieces / pieces))
            {
                arrivals.Add(new(gain, 1_000.0 * lag / HeardSound.Rate));
            }
            else if (Math.Max(margin, seen) >= Found)
            {
                // It may have come, or be alike by chance.
                floor = Math.Max(floor, gain + 3);
            }
        }

        return new(source, true, arrivals.ToImmutable(), Math.Max(floor, Finest));
    }

    // How clearly a sound came that may be chance, or what the source picked up of another: with all others taken out of both. And with what power, which
    // least squares tells too high of what is hardly above the rest.
    private (double Margin, double Power) Confirm(int source, int[] own, float[][] channels, Explanation explained, int lag)
    {
        List<Regressor> others = [.. explained.Regressors.Where(r => _references[r.Reference].Source != source)];
        int[] came = [.. others.Select(o => o.Reference).Distinct()];
        var itself = own.Select(i => Alone(i, came)).ToArray();
        var (best, power) = (0.0, 0.0);
        foreach (var rest in Fit(channels, Lags, others, null))
        {
            var spectrum = SpectrumOf(rest, Lags);
            Smooth(spectrum);
            for (var n = 0; n < own.Length; n++)
            {
                var alone = itself[n] ?? _spectrumOf[own[n]]!;
                Correlate(spectrum, alone, null);
                var (sigma, most) = (Sigma(_re), 0f);
                for (var at = Math.Max(0, lag - Near); at <= Math.Min(Lags - 1, lag + Near); at++)
                {
                    most = Math.Max(most, Math.Abs(_re[at]));
                }

                best = Math.Max(best, most / sigma);
                if (most > Suspected * sigma)
                {
                    power += Math.Pow(most / Response(alone), 2) * _powerOf[own[n]];
                }
            }

            GiveBack(spectrum);
            GiveBackSound(rest);
        }

        Array.ForEach(itself, GiveBack);
        return (best, power);
    }

    // A source's channel without what it picked up of others that came too, a little earlier or later; null: it picked up nothing.
    private float[]? Alone(int reference, int[] others)
    {
        Smooth(_spectrumOf[reference]!);
        var picked = new List<Regressor>();
        for (var n = 0; n < others.Length; n += 2)
        {
            Correlate(_spectrumOf[reference]!, _spectrumOf[others[n]], n + 1 < others.Length ? _spectrumOf[others[n + 1]] : null);
            Pick(others[n], _re);
            if (n + 1 < others.Length)
            {
                Pick(others[n + 1], _im);
            }
        }

        if (picked.Count == 0)
        {
            return null;
        }

        var rest = Fit([_references[reference].Samples], 0, picked, null)[0];
        var alone = SpectrumOf(rest);
        GiveBackSound(rest);
        return alone;

        void Pick(int other, float[] correlation)
        {
            var sigma = Sigma(correlation);
            var (lag, most) = Peak(correlation, -Lags / 16, Lags / 4);
            if (most > Suspected * sigma)
            {
                picked.Add(new Regressor(other, lag, most / sigma));
            }
        }
    }

    // Looks, takes out what was found, and looks again.
    private Explanation Explain(float[][] channels)
    {
        var (regressors, residuals) = (new List<Regressor>(), channels);
        var floors = new double[_references.Length];
        for (var sweep = 0; ; sweep++)
        {
            Array.Fill(floors, double.NegativeInfinity);
            var found = new Dictionary<(int, int), Regressor>();
            foreach (var residual in residuals)
            {
                var spectrum = SpectrumOf(residual, Lags);
                Smooth(spectrum);
                Whiten(spectrum);
                var sounding = Enumerable.Range(0, floors.Length).Where(i => _spectrumOf[i] is not null).ToArray();
                for (var n = 0; n < sounding.Length; n += 2)
                {
                    Correlate(spectrum, _spectrumOf[sounding[n]], n + 1 < sounding.Length ? _spectrumOf[sounding[n + 1]] : null);
                    Look(sounding[n], _re);
                    if (n + 1 < sounding.Length)
                    {
                        Look(sounding[n + 1], _im);
                    }
                }

                GiveBack(spectrum);
                if (sweep > 0)
                {
                    GiveBackSound(residual);
                }
            }

            // Of several delays that stand for the same way, the clearest.
            var added = new List<Regressor>();
            foreach (var candidate in found.Values.OrderByDescending(f => f.Margin))
            {
                if (regressors.Count + added.Count < MostRegressors && !regressors.Concat(added).Any(r => r.Reference == candidate.Reference && Math.Abs(r.Lag - candidate.Lag) <= Near))
                {
                    added.Add(candidate);
                }
            }

            if (added.Count == 0 || sweep == Sweeps)
            {
                return new Explanation(regressors, floors);
            }

            regressors.AddRange(added);
            var powers = channels.Select(_ => new double[regressors.Count]).ToArray();
            residuals = Fit(channels, Lags, regressors, powers);
            for (var p = 0; p < regressors.Count; p++)
            {
                regressors[p] = regressors[p] with { Power = powers.Sum(s => s[p]) * BandSpectrum.Energy };
            }

            void Look(int reference, float[] correlation)
            {
                var sigma = Sigma(correlation);
                var (lag, most) = Peak(correlation, 0, Lags);
                var (response, margin) = (Response(_spectrumOf[reference]!), most / sigma);
                var pieces = margin > Suspected ? PiecesOf(_references[reference].Samples, lag, margin) : 0;

                // What may have come or be alike by chance is no sound that came, but would hide one.
                var hidden = margin > Found && pieces == 0 ? most * 1.4 : (Found + 3) * sigma;
                floors[reference] = Math.Max(floors[reference], 20 * Math.Log10(hidden / response));
                if (pieces > 0 && !(found.TryGetValue((reference, lag), out var known) && known.Margin > margin))
                {
                    found[(reference, lag)] = new Regressor(reference, lag, margin) { Pieces = pieces };
                }
            }
        }
    }

    // What is left, filtered as the correlation weights it: to be looked at piece by piece.
    private void Whiten(float[] spectrum)
    {
        Array.Clear(_re);
        Array.Clear(_im);
        for (var f = Low; f <= High; f++)
        {
            var weight = (float)(1 / _power[f]);
            (_re[f], _im[f]) = (spectrum[2 * f] * weight, spectrum[(2 * f) + 1] * weight);
            (_re[Length - f], _im[Length - f]) = (_re[f], -_im[f]);
        }

        _long.Back(_re, _im);
        _re.CopyTo(_white, 0);
    }

    // How many pieces of the sound the peak rests on; 0 where they do not add up as those of a sound do that came all the time. Of n pieces that matter alike,
    // and of a peak of z deviations, Σc/√Σc² is z/√(1 + z²/n).
    private double PiecesOf(float[] samples, int lag, double margin)
    {
        var (sum, squares, energy, energies) = (0.0, 0.0, 0.0, 0.0);
        for (var at = Lags; at < Length; at += Piece)
        {
            var source = samples.AsSpan(at - lag, Piece);
            double c = TensorPrimitives.Dot<float>(_white.AsSpan(at, Piece), source), e = TensorPrimitives.SumOfSquares<float>(source);
            (sum, squares, energy, energies) = (sum + c, squares + (c * c), energy + e, energies + (e * e));
        }

        var pieces = energy * energy / Math.Max(energies, 1e-30);
        return Math.Abs(sum) / Math.Sqrt(Math.Max(squares, 1e-30)) >= Steadily * margin / Math.Sqrt(1 + (margin * margin / pieces)) ? pieces : 0;
    }

    // Channels of one source that came at one time belong together.
    private static List<(int Lag, double Power, double Margin, double Pieces)> Together(IEnumerable<Regressor> regressors)
    {
        var left = regressors.OrderByDescending(r => r.Margin).ToList();
        var groups = new List<(int Lag, double Power, double Margin, double Pieces)>();
        while (left.Count > 0)
        {
            var same = left.Where(r => Math.Abs(r.Lag - left[0].Lag) <= Near).ToList();
            groups.Add((left[0].Lag, same.Sum(r => r.Power), left[0].Margin, same.Max(r => r.Pieces)));
            left.RemoveAll(same.Contains);
        }

        return [.. groups.OrderByDescending(g => g.Power)];
    }

    // The spectrum from 0 up to High: real and imaginary parts in turn.
    private float[] SpectrumOf(float[] samples, int from = 0)
    {
        _re.AsSpan(0, from).Clear();
        samples.AsSpan(from).CopyTo(_re.AsSpan(from));
        Array.Clear(_im);
        _long.Forward(_re, _im);
        var spectrum = _spectra.TryPop(out var spare) ? spare : new float[2 * (High + 1)];
        for (var f = 0; f <= High; f++)
        {
            (spectrum[2 * f], spectrum[(2 * f) + 1]) = (_re[f], _im[f]);
        }

        return spectrum;
    }

    // What there is around each frequency, within 30 Hz; no less than a ten-millionth of the most, and than the engine's own noise.
    private void Smooth(float[] spectrum)
    {
        const int reach = 240;
        for (var f = 0; f <= High; f++)
        {
            double re = spectrum[2 * f], im = spectrum[(2 * f) + 1];
            _sums[f + 1] = _sums[f] + (re * re) + (im * im);
        }

        var most = 0.0;
        for (var f = Low; f <= High; f++)
        {
            var (a, b) = (Math.Max(Low, f - reach), Math.Min(High, f + reach));
            _power[f] = (_sums[b + 1] - _sums[a]) / (b + 1 - a);
            most = Math.Max(most, _power[f]);
        }

        var least = Math.Max(most * 1e-7, (Length - Lags) * 1e-13);
        for (var f = Low; f <= High; f++)
        {
            _power[f] = Math.Max(_power[f], least);
        }
    }

    // Two at once: each is real, one comes out as the real part and one as the imaginary.
    private void Correlate(float[] residual, float[]? one, float[]? other)
    {
        Array.Clear(_re);
        Array.Clear(_im);
        for (var f = Low; f <= High; f++)
        {
            var weight = (float)(1 / _power[f]);
            var (rr, ri) = (residual[2 * f] * weight, residual[(2 * f) + 1] * weight);
            var (ar, ai) = one is null ? (0f, 0f) : ((rr * one[2 * f]) + (ri * one[(2 * f) + 1]), (ri * one[2 * f]) - (rr * one[(2 * f) + 1]));
            var (br, bi) = other is null ? (0f, 0f) : ((rr * other[2 * f]) + (ri * other[(2 * f) + 1]), (ri * other[2 * f]) - (rr * other[(2 * f) + 1]));
            (_re[f], _im[f]) = (ar - bi, ai + br);
            (_re[Length - f], _im[Length - f]) = (ar + bi, br - ai);
        }

        _long.Back(_re, _im);
    }

    // What the correlation would be at the delay of a sound that came with gain 1.
    private double Response(float[] spectrum)
    {
        var sum = 0.0;
        for (var f = Low; f <= High; f++)
        {
            double re = spectrum[2 * f], im = spectrum[(2 * f) + 1];
            sum += ((re * re) + (im * im)) / _power[f];
        }

        return 2 * sum / Length * (Length - Lags) / Length;
    }

    // What chance gives: from the median, which a few delays at which something came do not move.
    private double Sigma(float[] correlation)
    {
        for (var i = 0; i < _sorted.Length; i++)
        {
            _sorted[i] = Math.Abs(correlation[i * 8]);
        }

        Array.Sort(_sorted);
        return Math.Max(_sorted[_sorted.Length / 2] / 0.6745, 1e-30);
    }

    private static (int Lag, double Most) Peak(float[] correlation, int from, int to)
    {
        var (lag, most) = (0, 0f);
        for (var i = from; i < to; i++)
        {
            var value = Math.Abs(correlation[i & (Length - 1)]);
            if (value > most)
            {
                (lag, most) = (i, value);
            }
        }

        return (lag, most);
    }

    // Least squares, second by second and band by band: what is left of each.
    private float[][] Fit(float[][] signals, int from, List<Regressor> regressors, double[][]? powers)
    {
        var pool = from == 0 ? _allFrames : _frames;
        var frames = FramesFrom(from);
        var heard = signals.Select(x =>
        {
            var spectrum = Spare(from);
            spectrum.Become(x, from, _short);
            return spectrum;
        }).ToArray();
        if (regressors.Count > 0)
        {
            var parts = regressors.Select(r => from == 0 ? Whole(r) : Lagged(r.Reference, r.Lag)).ToArray();
            if (!_squares.TryGetValue(parts.Length, out var squares))
            {
                _squares[parts.Length] = squares = new LeastSquares(parts.Length);
            }

            for (var start = 0; start < frames;)
            {
                var end = frames - start < 2 * BlockFrames ? frames : start + BlockFrames;
                squares.TakeOut(heard, parts, start, end, powers);
                start = end;
            }

            if (from == 0)
            {
                Array.ForEach(parts, _allFrames.Push);
            }
        }

        return [.. heard.Select(spectrum =>
        {
            var sound = _sounds.TryPop(out var spare) ? spare : new float[Length];
            spectrum.Join(sound, from, _short);
            pool.Push(spectrum);
            return sound;
        })];
    }

    private BandSpectrum Whole(Regressor regressor)
    {
        var spectrum = Spare(0);
        spectrum.Become(_references[regressor.Reference].Samples, -regressor.Lag, _short);
        return spectrum;
    }

    // A source's channel, later; kept while one listener is looked into.
    private BandSpectrum Lagged(int reference, int lag)
    {
        if (!_lagged.TryGetValue((reference, lag), out var spectrum))
        {
            _lagged[(reference, lag)] = spectrum = Spare(Lags);
            spectrum.Become(_references[reference].Samples, Lags - lag, _short);
        }

        return spectrum;
    }

    private BandSpectrum Spare(int from) => (from == 0 ? _allFrames : _frames).TryPop(out var spare) ? spare : new BandSpectrum(FramesFrom(from));

    private static int FramesFrom(int from) => ((Length - from) / BandSpectrum.Hop) - 1;

    private void Forget()
    {
        foreach (var spectrum in _lagged.Values)
        {
            _frames.Push(spectrum);
        }

        _lagged.Clear();
    }

    private void GiveBack(float[]? spectrum)
    {
        if (spectrum is not null)
        {
            _spectra.Push(spectrum);
        }
    }

    private void GiveBackSound(float[] sound) => _sounds.Push(sound);

    private sealed record Regressor(int Reference, int Lag, double Margin)
    {
        public double Power { get; init; }

        public double Pieces { get; init; }
    }

    private sealed record Explanation(List<Regressor> Regressors, double[] Floors);
}
