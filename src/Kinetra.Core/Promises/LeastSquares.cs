using System.Numerics.Tensors;

namespace Kinetra.Core.Promises;

/// <summary>
/// Takes out of sounds' short-time spectra what a few others explain of them, one complex factor for each over a block of frames and a band of
/// bins: the factors that leave least behind, by the normal equations and Cholesky's decomposition.
/// </summary>
sealed class LeastSquares
{
    // So that two that are alike share what they explain.
    private const double Ridge = 1e-5;

    private readonly int _count;
    private readonly double[] _re;
    private readonly double[] _im;
    private readonly double[] _rightRe;
    private readonly double[] _rightIm;

    /// <summary>Of so many others.</summary>
    public LeastSquares(int count) => (_count, _re, _im, _rightRe, _rightIm) = (count, new double[count * count], new double[count * count], new double[count], new double[count]);

    /// <summary>Takes it out of several signals.</summary>
    /// <param name="signals">What is left stands in them afterwards.</param>
    /// <param name="others">As many as were said.</param>
    /// <param name="start">The first frame of the block.</param>
    /// <param name="end">The frame after its last.</param>
    /// <param name="powers">For each signal, the power that each of the others had in what was taken out is added here; or null.</param>
    public void TakeOut(ReadOnlySpan<BandSpectrum> signals, ReadOnlySpan<BandSpectrum> others, int start, int end, double[][]? powers)
    {
        for (var band = 0; band < BandSpectrum.Bands; band++)
        {
            if (!Decompose(others, band, start, end))
            {
                continue;
            }

            for (var s = 0; s < signals.Length; s++)
            {
                var re = signals[s].Re(band, start, end);
                var im = signals[s].Im(band, start, end);
                Solve(others, band, start, end, re, im);
                for (var p = 0; p < _count; p++)
                {
                    var xr = others[p].Re(band, start, end);
                    var xi = others[p].Im(band, start, end);
                    var (hr, hi) = ((float)_rightRe[p], (float)_rightIm[p]);
                    TensorPrimitives.MultiplyAdd(xr, -hr, re, re);
                    TensorPrimitives.MultiplyAdd(xi, hi, re, re);
                    TensorPrimitives.MultiplyAdd(xi, -hr, im, im);
                    TensorPrimitives.MultiplyAdd(xr, -hi, im, im);
                    if (powers is not null)
                    {
                        powers[s][p] += (((double)hr * hr) + ((double)hi * hi)) * ((double)TensorPrimitives.SumOfSquares<float>(xr) + TensorPrimitives.SumOfSquares<float>(xi));
                    }
                }

                // Of what is left, each takes its share by chance: one part in as many as there are bins more than others.
                if (powers is not null && re.Length > _count)
                {
                    var chance = ((double)TensorPrimitives.SumOfSquares<float>(re) + TensorPrimitives.SumOfSquares<float>(im)) / (re.Length - _count);
                    for (var p = 0; p < _count; p++)
                    {
                        powers[s][p] -= chance;
                    }
                }
            }
        }
    }

    // A[p,q] = Σ x̄p·xq, lower half, into L·Lᴴ in place.
    private bool Decompose(ReadOnlySpan<BandSpectrum> others, int band, int start, int end)
    {
        var most = 0.0;
        for (var p = 0; p < _count; p++)
        {
            var pr = others[p].Re(band, start, end);
            var pi = others[p].Im(band, start, end);
            for (var q = 0; q <= p; q++)
            {
                var qr = others[q].Re(band, start, end);
                var qi = others[q].Im(band, start, end);
                _re[(p * _count) + q] = (double)TensorPrimitives.Dot<float>(pr, qr) + TensorPrimitives.Dot<float>(pi, qi);
                _im[(p * _count) + q] = p == q ? 0 : (double)TensorPrimitives.Dot<float>(pr, qi) - TensorPrimitives.Dot<float>(pi, qr);
            }

            most = Math.Max(most, _re[(p * _count) + p]);
        }

        if (most <= 1e-20)
        {
            return false;
        }

        for (var p = 0; p < _count; p++)
        {
            _re[(p * _count) + p] = (_re[(p * _count) + p] * (1 + Ridge)) + (most * 1e-9);
        }

        for (var p = 0; p < _count; p++)
        {
            for (var q = 0; q <= p; q++)
            {
                var (re, im) = (_re[(p * _count) + q], _im[(p * _count) + q]);
                for (var k = 0; k < q; k++)
                {
                    var (ar, ai, br, bi) = (_re[(p * _count) + k], _im[(p * _count) + k], _re[(q * _count) + k], -_im[(q * _count) + k]);
                    re -= (ar * br) - (ai * bi);
                    im -= (ar * bi) + (ai * br);
                }

                if (p == q)
                {
                    (_re[(p * _count) + p], _im[(p * _count) + p]) = (Math.Sqrt(Math.Max(re, most * 1e-12)), 0);
                }
                else
                {
                    (_re[(p * _count) + q], _im[(p * _count) + q]) = (re / _re[(q * _count) + q], im / _re[(q * _count) + q]);
                }
            }
        }

        return true;
    }

    private void Solve(ReadOnlySpan<BandSpectrum> others, int band, int start, int end, ReadOnlySpan<float> yr, ReadOnlySpan<float> yi)
    {
        for (var p = 0; p < _count; p++)
        {
            var pr = others[p].Re(band, start, end);
            var pi = others[p].Im(band, start, end);
            _rightRe[p] = (double)TensorPrimitives.Dot<float>(pr, yr) + TensorPrimitives.Dot<float>(pi, yi);
            _rightIm[p] = (double)TensorPrimitives.Dot<float>(pr, yi) - TensorPrimitives.Dot<float>(pi, yr);
        }

        for (var p = 0; p < _count; p++)
        {
            for (var k = 0; k < p; k++)
            {
                Subtract(p, k, _re[(p * _count) + k], _im[(p * _count) + k]);
            }

            Divide(p);
        }

        for (var p = _count - 1; p >= 0; p--)
        {
            for (var k = p + 1; k < _count; k++)
            {
                Subtract(p, k, _re[(k * _count) + p], -_im[(k * _count) + p]);
            }

            Divide(p);
        }
    }

    private void Subtract(int from, int which, double re, double im)
    {
        _rightRe[from] -= (re * _rightRe[which]) - (im * _rightIm[which]);
        _rightIm[from] -= (re * _rightIm[which]) + (im * _rightRe[which]);
    }

    private void Divide(int place)
    {
        _rightRe[place] /= _re[(place * _count) + place];
        _rightIm[place] /= _re[(place * _count) + place];
    }
}
