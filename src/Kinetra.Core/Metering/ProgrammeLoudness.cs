using System.Runtime.CompilerServices;

namespace Kinetra.Core.Metering;

/// <summary>
/// Loudness of a whole programme, and its range, from the momentary and the short-term loudness each 100 ms. Kept as counts
/// in classes of 0.01 LU from −70 LUFS on, so that any length takes the same room and the same time. 48 kHz, 64 bit.
/// Sources: ITU-R BS.1770-5, Annex 1 (gates of −70 LUFS and −10 LU); EBU Tech 3342 (gates of −70 LUFS and −20 LU, the 10th
/// to the 95th percentile).
/// </summary>
public sealed class ProgrammeLoudness
{
    /// <summary>A value is taken each 100 ms: blocks of 400 ms that overlap by three quarters.</summary>
    public const int HopsPerValue = 5;

    private const double AbsoluteGate = -70;
    private const double IntegratedGate = -10;
    private const double RangeGate = -20;
    private const double Low = 0.10;
    private const double High = 0.95;

    private readonly LoudnessClasses _momentary = new();
    private readonly LoudnessClasses _shortTerm = new();
    private int _hops;
    private int _sinceStart;

    /// <summary>LUFS; −∞ until anything was louder than −70 LUFS.</summary>
    public double Integrated { get; private set; } = double.NegativeInfinity;

    /// <summary>LU, 0 or more.</summary>
    public double Range { get; private set; }

    /// <summary>Takes in the meter's values at the end of a hop.</summary>
    /// <param name="momentary">LUFS.</param>
    /// <param name="shortTerm">LUFS.</param>
    public void CloseHop(double momentary, double shortTerm)
    {
        _sinceStart = Math.Min(_sinceStart + 1, Hop.ShortTerm);
        if (++_hops < HopsPerValue)
        {
            return;
        }

        _hops = 0;

        // Windows that reach back before the start are not whole blocks of the programme.
        if (_sinceStart >= Hop.Momentary)
        {
            _momentary.Add(momentary);
            Integrated = _momentary.MeanAbove(_momentary.MeanAbove(AbsoluteGate) + IntegratedGate);
        }

        if (_sinceStart >= Hop.ShortTerm)
        {
            _shortTerm.Add(shortTerm);
            var gate = _shortTerm.MeanAbove(AbsoluteGate) + RangeGate;
            Range = _shortTerm.Percentile(High, gate) - _shortTerm.Percentile(Low, gate);
        }
    }

    /// <summary>Starts over: a new programme.</summary>
    public void Reset()
    {
        _momentary.Clear();
        _shortTerm.Clear();
        (_hops, _sinceStart, Integrated, Range) = (0, 0, double.NegativeInfinity, 0);
    }

    private sealed class LoudnessClasses
    {
        private const double Width = 0.01;
        private const int Count = 10_000;

        // So many classes make one of the coarse ones, which spare looking at each.
        private const int Coarse = 100;

        private readonly int[] _counts = new int[Count];
        private readonly double[] _powers = new double[Count];
        private readonly int[] _coarseCounts = new int[Count / Coarse];
        private readonly double[] _coarsePowers = new double[Count / Coarse];

        public void Add(double lufs)
        {
            if (lufs > AbsoluteGate)
            {
                var at = IndexOf(lufs);
                var power = Level.ToKWeighted(lufs);
                _counts[at]++;
                _powers[at] += power;
                _coarseCounts[at / Coarse]++;
                _coarsePowers[at / Coarse] += power;
            }
        }

        /// <summary>LUFS of the mean power of all values from a gate on; −∞ where there are none.</summary>
        public double MeanAbove(double gate)
        {
            if (double.IsNegativeInfinity(gate))
            {
                return gate;
            }

            var (count, power) = From(IndexOf(gate));
            return count == 0 ? double.NegativeInfinity : Level.FromKWeighted(power / count);
        }

        /// <summary>The value below which a share of those from a gate on lie, LUFS; 0 where there are none.</summary>
        public double Percentile(double share, double gate)
        {
            if (double.IsNegativeInfinity(gate))
            {
                return 0;
            }

            var first = IndexOf(gate);
            var wanted = (long)Math.Round(share * (From(first).Count - 1)) + 1;
            for (var i = first; i < Count;)
            {
                if (i % Coarse == 0 && wanted > _coarseCounts[i / Coarse])
                {
                    wanted -= _coarseCounts[i / Coarse];
                    i += Coarse;
                    continue;
                }

                wanted -= _counts[i];
                if (wanted <= 0)
                {
                    return AbsoluteGate + ((i + 0.5) * Width);
                }

                i++;
            }

            return 0;
        }

        public void Clear()
        {
            Array.Clear(_counts);
            Array.Clear(_powers);
            Array.Clear(_coarseCounts);
            Array.Clear(_coarsePowers);
        }

        [MethodImpl(MethodImplOptions.AggressiveOptimization)]
        private (long Count, double Power) From(int first)
        {
            long count = 0;
            double power = 0;
            var whole = (first + Coarse - 1) / Coarse;
            for (var i = first; i < whole * Coarse; i++)
            {
                count += _counts[i];
                power += _powers[i];
            }

            for (var i = whole; i < _coarseCounts.Length; i++)
            {
                count += _coarseCounts[i];
                power += _coarsePowers[i];
            }

            return (count, power);
        }

        private static int IndexOf(double lufs) => Math.Clamp((int)((lufs - AbsoluteGate) / Width), 0, Count - 1);
    }
}
