using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;
using System.Runtime.Intrinsics.X86;

namespace Kinetra.Core.Dsp;

/// <summary>
/// Second-order sections in a row with their state: <c>y = b₀x + s₁, s₁ = b₁x − a₁y + s₂, s₂ = b₂x − a₂y</c>, in 64 bits, on left
/// and right at once. The plain form goes section by section. The wide form computes four sections at once, each one frame
/// behind the one before it: what one waits for, the others are working on.
/// </summary>
sealed class SectionBank(int sections)
{
    // Below this the state is inaudible and on its way to denormal numbers, which are slow.
    private const double Tiny = 1e-24;

    // Sections that are computed at once, and values of one vector: left and right of each.
    private const int Group = 4;
    private const int Width = 2 * Group;

    private readonly BiquadCoefficients[] _coefficients = new BiquadCoefficients[sections];

    // For each group of sections: b₀, b₁, b₂, a₁, a₂, each for all of them; a section that is not there passes all.
    private readonly double[] _packed = new double[(sections + Group - 1) / Group * 5 * Width];
    private readonly double[] _s1 = new double[(sections + Group - 1) / Group * Width];
    private readonly double[] _s2 = new double[(sections + Group - 1) / Group * Width];

    // Those behind the last one that does anything are not computed.
    private int _used;

    /// <summary>True where every section passes all.</summary>
    public bool IsThrough => _used == 0;

    /// <summary>How many sections are computed: those behind pass all.</summary>
    public int Used => _used;

    /// <summary>Of each section.</summary>
    public ReadOnlySpan<BiquadCoefficients> Coefficients => _coefficients;

    /// <summary>s₁ of each section, of left and of right.</summary>
    public Span<double> S1 => _s1;

    /// <summary>s₂ of each section, of left and of right.</summary>
    public Span<double> S2 => _s2;

    /// <summary>Takes these coefficients, as many as there are sections.</summary>
    public void Set(ReadOnlySpan<BiquadCoefficients> coefficients)
    {
        coefficients.CopyTo(_coefficients);
        _used = 0;
        for (var i = 0; i < _s1.Length / 2; i++)
        {
            var c = i < sections ? coefficients[i] : FilterDesign.Through;
            _used = c == FilterDesign.Through ? _used : i + 1;
            var at = (i / Group * 5 * Width) + (2 * (i % Group));
            Put(at, c.B0);
            Put(at + Width, c.B1);
            Put(at + (2 * Width), c.B2);
            Put(at + (3 * Width), c.A1);
            Put(at + (4 * Width), c.A2);
        }

        void Put(int at, double value) => _packed[at] = _packed[at + 1] = value;
    }

    /// <summary>Goes on from where another of as many sections is.</summary>
    public void TakeState(SectionBank other)
    {
        other._s1.CopyTo(_s1, 0);
        other._s2.CopyTo(_s2, 0);

        // Sections that are not computed have heard nothing once they are again.
        _s1.AsSpan(2 * _used).Clear();
        _s2.AsSpan(2 * _used).Clear();
    }

    /// <summary>Forgets all it has heard.</summary>
    public void Reset()
    {
        Array.Clear(_s1);
        Array.Clear(_s2);
    }

    /// <summary>Filters frames in place.</summary>
    public void Process(Span<Vector128<double>> frames)
    {
        if (Avx512F.IsSupported && _used > 1 && frames.Length >= Group)
        {
            ProcessWide(frames);
        }
        else
        {
            ProcessPlain(frames);
        }
    }

    /// <summary>The plain form.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public void ProcessPlain(Span<Vector128<double>> frames)
    {
        for (var i = 0; i < _used; i++)
        {
            var c = _coefficients[i];
            var (s1, s2) = (Vector128.Create(_s1, 2 * i), Vector128.Create(_s2, 2 * i));
            Vector128<double> b0 = Vector128.Create(c.B0), b1 = Vector128.Create(c.B1), b2 = Vector128.Create(c.B2);
            Vector128<double> a1 = Vector128.Create(-c.A1), a2 = Vector128.Create(-c.A2);
            for (var n = 0; n < frames.Length; n++)
            {
                var x = frames[n];
                var y = Vector128.FusedMultiplyAdd(b0, x, s1);
                s1 = Vector128.FusedMultiplyAdd(a1, y, Vector128.FusedMultiplyAdd(b1, x, s2));
                s2 = Vector128.FusedMultiplyAdd(a2, y, b2 * x);
                frames[n] = y;
            }

            s1.CopyTo(_s1, 2 * i);
            s2.CopyTo(_s2, 2 * i);
        }

        Flush();
    }

    /// <summary>The wide form; at least <see cref="Group"/> frames.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public void ProcessWide(Span<Vector128<double>> frames)
    {
        ref var first = ref MemoryMarshal.GetReference(frames);
        for (var group = 0; group * Group < _used; group++)
        {
            ref var c = ref _packed[group * 5 * Width];
            var b0 = Vector512.LoadUnsafe(ref c);
            var b1 = Vector512.LoadUnsafe(ref c, Width);
            var b2 = Vector512.LoadUnsafe(ref c, 2 * Width);
            var a1 = -Vector512.LoadUnsafe(ref c, 3 * Width);
            var a2 = -Vector512.LoadUnsafe(ref c, 4 * Width);
            var s1 = Vector512.LoadUnsafe(ref _s1[group * Width]);
            var s2 = Vector512.LoadUnsafe(ref _s2[group * Width]);
            var y = Vector512<double>.Zero;

            // The first section begins alone; those behind it follow one frame later each.
            for (var t = 0; t < Group - 1; t++)
            {
                var (before1, before2) = (s1, s2);
                Step(ref y, ref s1, ref s2, Unsafe.Add(ref first, t), b0, b1, b2, a1, a2);
                var busy = Vector512.LessThan(Vector512.Create(0.0, 0, 1, 1, 2, 2, 3, 3), Vector512.Create(t + 0.5));
                s1 = Vector512.ConditionalSelect(busy, s1, before1);
                s2 = Vector512.ConditionalSelect(busy, s2, before2);
            }

            for (var t = Group - 1; t < frames.Length; t++)
            {
                Step(ref y, ref s1, ref s2, Unsafe.Add(ref first, t), b0, b1, b2, a1, a2);
                Unsafe.Add(ref first, t - (Group - 1)) = y.GetUpper().GetUpper();
            }

            // The first section is done before those behind it.
            for (var t = 0; t < Group - 1; t++)
            {
                var (before1, before2) = (s1, s2);
                Step(ref y, ref s1, ref s2, default, b0, b1, b2, a1, a2);
                var busy = Vector512.GreaterThan(Vector512.Create(0.0, 0, 1, 1, 2, 2, 3, 3), Vector512.Create(t + 0.5));
                s1 = Vector512.ConditionalSelect(busy, s1, before1);
                s2 = Vector512.ConditionalSelect(busy, s2, before2);
                Unsafe.Add(ref first, frames.Length - (Group - 1) + t) = y.GetUpper().GetUpper();
            }

            s1.StoreUnsafe(ref _s1[group * Width]);
            s2.StoreUnsafe(ref _s2[group * Width]);
        }

        Flush();
    }

    // What goes into each section is what the one before it gave last; into the first, the frame.
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static void Step(
        ref Vector512<double> y,
        ref Vector512<double> s1,
        ref Vector512<double> s2,
        Vector128<double> frame,
        Vector512<double> b0,
        Vector512<double> b1,
        Vector512<double> b2,
        Vector512<double> a1,
        Vector512<double> a2)
    {
        var twice = Vector256.Create(frame, frame);
        var x = Vector512.ConditionalSelect(
            Vector512.Create(-1L, -1, 0, 0, 0, 0, 0, 0).AsDouble(),
            Vector512.Create(twice, twice),
            Vector512.Shuffle(y, Vector512.Create(0L, 1, 0, 1, 2, 3, 4, 5)));
        y = Vector512.FusedMultiplyAdd(b0, x, s1);
        s1 = Vector512.FusedMultiplyAdd(a1, y, Vector512.FusedMultiplyAdd(b1, x, s2));
        s2 = Vector512.FusedMultiplyAdd(a2, y, b2 * x);
    }

    /// <summary>Tails that have died become exact zero; called after each piece of sound.</summary>
    public void Flush()
    {
        for (var i = 0; i < 2 * _used; i++)
        {
            if (Math.Abs(_s1[i]) < Tiny && Math.Abs(_s2[i]) < Tiny)
            {
                _s1[i] = _s2[i] = 0;
            }
        }
    }
}
