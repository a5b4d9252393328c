using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;

namespace Kinetra.Core.Dsp;

/// <summary>
/// Up to eight banks of second-order sections side by side (<see cref="Lanes"/>), with the same arithmetic as
/// <see cref="SectionBank"/>, to the bit. The banks' coefficients and state are taken for a block, and the state is given back.
/// </summary>
/// <param name="sections">How many sections each bank has.</param>
sealed class SectionLanes(int sections)
{
    private const int EachCoefficients = 5;
    private const int EachState = 4;

    // For each section: b₀, b₁, b₂, −a₁, −a₂; and s₁ and s₂ of left, then of right.
    private readonly Vector512<double>[] _coefficients = new Vector512<double>[sections * EachCoefficients];
    private readonly Vector512<double>[] _state = new Vector512<double>[sections * EachState];
    private int _used;

    /// <summary>True where every section of every bank passes all.</summary>
    public bool IsThrough => _used == 0;

    /// <summary>Takes no bank; those that are taken next stand in lanes from 0 on.</summary>
    public void Begin()
    {
        _used = 0;
        for (var i = 0; i < sections; i++)
        {
            _coefficients[i * EachCoefficients] = Vector512<double>.One;
            _coefficients.AsSpan((i * EachCoefficients) + 1, EachCoefficients - 1).Clear();
        }

        Array.Clear(_state);
    }

    /// <summary>Takes a bank into a lane.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public void Take(int lane, SectionBank bank)
    {
        _used = Math.Max(_used, bank.Used);
        var coefficients = Values(_coefficients)[lane..];
        var state = Values(_state)[lane..];
        for (var i = 0; i < bank.Used; i++)
        {
            ref readonly var c = ref bank.Coefficients[i];
            var at = i * EachCoefficients * Lanes.Count;
            coefficients[at] = c.B0;
            coefficients[at + Lanes.Count] = c.B1;
            coefficients[at + (2 * Lanes.Count)] = c.B2;
            coefficients[at + (3 * Lanes.Count)] = -c.A1;
            coefficients[at + (4 * Lanes.Count)] = -c.A2;
            at = i * EachState * Lanes.Count;
            state[at] = bank.S1[2 * i];
            state[at + Lanes.Count] = bank.S2[2 * i];
            state[at + (2 * Lanes.Count)] = bank.S1[(2 * i) + 1];
            state[at + (3 * Lanes.Count)] = bank.S2[(2 * i) + 1];
        }
    }

    /// <summary>Gives a lane's state back to its bank.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public void GiveBack(int lane, SectionBank bank)
    {
        var state = Values(_state)[lane..];
        for (var i = 0; i < bank.Used; i++)
        {
            var at = i * EachState * Lanes.Count;
            bank.S1[2 * i] = state[at];
            bank.S2[2 * i] = state[at + Lanes.Count];
            bank.S1[(2 * i) + 1] = state[at + (2 * Lanes.Count)];
            bank.S2[(2 * i) + 1] = state[at + (3 * Lanes.Count)];
        }

        bank.Flush();
    }

    /// <summary>Filters frames in place. Both as long.</summary>
    public void Process(Span<Vector512<double>> left, Span<Vector512<double>> right)
    {
        var i = 0;
        for (; i + 1 < _used; i += 2)
        {
            Two(left, right, i);
        }

        if (i < _used)
        {
            One(left, right, i);
        }
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void One(Span<Vector512<double>> left, Span<Vector512<double>> right, int section)
    {
        ref var c = ref _coefficients[section * EachCoefficients];
        ref var s = ref _state[section * EachState];
        Vector512<double> b0 = c, b1 = Unsafe.Add(ref c, 1), b2 = Unsafe.Add(ref c, 2), a1 = Unsafe.Add(ref c, 3), a2 = Unsafe.Add(ref c, 4);
        Vector512<double> l1 = s, l2 = Unsafe.Add(ref s, 1), r1 = Unsafe.Add(ref s, 2), r2 = Unsafe.Add(ref s, 3);
        ref var x = ref MemoryMarshal.GetReference(left);
        ref var y = ref MemoryMarshal.GetReference(right[..left.Length]);
        for (var n = 0; n < left.Length; n++)
        {
            Unsafe.Add(ref x, n) = Step(Unsafe.Add(ref x, n), ref l1, ref l2, b0, b1, b2, a1, a2);
            Unsafe.Add(ref y, n) = Step(Unsafe.Add(ref y, n), ref r1, ref r2, b0, b1, b2, a1, a2);
        }

        (s, Unsafe.Add(ref s, 1), Unsafe.Add(ref s, 2), Unsafe.Add(ref s, 3)) = (l1, l2, r1, r2);
    }

    // A section and the next one: the second works on what the first has given, while the first goes on.
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void Two(Span<Vector512<double>> left, Span<Vector512<double>> right, int section)
    {
        ref var c = ref _coefficients[section * EachCoefficients];
        ref var s = ref _state[section * EachState];
        Vector512<double> b0 = c, b1 = Unsafe.Add(ref c, 1), b2 = Unsafe.Add(ref c, 2), a1 = Unsafe.Add(ref c, 3), a2 = Unsafe.Add(ref c, 4);
        Vector512<double> d0 = Unsafe.Add(ref c, 5), d1 = Unsafe.Add(ref c, 6), d2 = Unsafe.Add(ref c, 7), e1 = Unsafe.Add(ref c, 8), e2 = Unsafe.Add(ref c, 9);
        Vector512<double> l1 = s, l2 = Unsafe.Add(ref s, 1), r1 = Unsafe.Add(ref s, 2), r2 = Unsafe.Add(ref s, 3);
        Vector512<double> l3 = Unsafe.Add(ref s, 4), l4 = Unsafe.Add(ref s, 5), r3 = Unsafe.Add(ref s, 6), r4 = Unsafe.Add(ref s, 7);
        ref var x = ref MemoryMarshal.GetReference(left);
        ref var y = ref MemoryMarshal.GetReference(right[..left.Length]);
        for (var n = 0; n < left.Length; n++)
        {
            var u = Step(Unsafe.Add(ref x, n), ref l1, ref l2, b0, b1, b2, a1, a2);
            var v = Step(Unsafe.Add(ref y, n), ref r1, ref r2, b0, b1, b2, a1, a2);
            Unsafe.Add(ref x, n) = Step(u, ref l3, ref l4, d0, d1, d2, e1, e2);
            Unsafe.Add(ref y, n) = Step(v, ref r3, ref r4, d0, d1, d2, e1, e2);
        }

        (s, Unsafe.Add(ref s, 1), Unsafe.Add(ref s, 2), Unsafe.Add(ref s, 3)) = (l1, l2, r1, r2);
        (Unsafe.Add(ref s, 4), Unsafe.Add(ref s, 5), Unsafe.Add(ref s, 6), Unsafe.Add(ref s, 7)) = (l3, l4, r3, r4);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Vector512<double> Step(
        Vector512<double> x,
        ref Vector512<double> s1,
        ref Vector512<double> s2,
        Vector512<double> b0,
        Vector512<double> b1,
        Vector512<double> b2,
        Vector512<double> a1,
        Vector512<double> a2)
    {
        var y = Vector512.FusedMultiplyAdd(b0, x, s1);
        s1 = Vector512.FusedMultiplyAdd(a1, y, Vector512.FusedMultiplyAdd(b1, x, s2));
        s2 = Vector512.FusedMultiplyAdd(a2, y, b2 * x);
        return y;
    }

    private static Span<double> Values(Vector512<double>[] vectors) => MemoryMarshal.Cast<Vector512<double>, double>(vectors.AsSpan());
}
