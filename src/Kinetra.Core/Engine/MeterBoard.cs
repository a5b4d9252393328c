using System.Collections.Immutable;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Engine;

/// <summary>What is measured of a source, in the order of a meter frame.</summary>
public enum SourceMeter
{
    /// <summary>Highest sample since the last frame, dBFS.</summary>
    Peak,

    /// <summary>Highest sample of the last 3 s, dBFS.</summary>
    PeakHold,

    /// <summary>RMS over 400 ms, dBFS.</summary>
    Rms,

    /// <summary>Momentary loudness, LUFS.</summary>
    Momentary,

    /// <summary>Short-term loudness, LUFS.</summary>
    ShortTerm,

    /// <summary>Reference loudness, LUFS.</summary>
    Reference,

    /// <summary>Times at full scale after its chain.</summary>
    Clips,

    /// <summary>Times at full scale before its trim.</summary>
    ClipsIn,
}

/// <summary>What is measured of a mix, in the order of a meter frame.</summary>
public enum MixMeter
{
    /// <summary>Highest sample since the last frame, dBFS.</summary>
    Peak,

    /// <summary>Highest sample of the last 3 s, dBFS.</summary>
    PeakHold,

    /// <summary>RMS over 400 ms, dBFS.</summary>
    Rms,

    /// <summary>Momentary loudness, LUFS.</summary>
    Momentary,

    /// <summary>Short-term loudness, LUFS.</summary>
    ShortTerm,

    /// <summary>True peak of the last 3 s, dBTP.</summary>
    TruePeakHold,

    /// <summary>Highest true peak since measuring began, dBTP.</summary>
    TruePeakMost,

    /// <summary>Integrated loudness since measuring began, LUFS.</summary>
    Integrated,

    /// <summary>Loudness range since then, LU.</summary>
    Range,

    /// <summary>Correlation of left and right, −1 … 1.</summary>
    Correlation,

    /// <summary>By how much look-ahead makes it late, frames.</summary>
    Latency,

    /// <summary>
    /// Momentary loudness as its markers tell it, LUFS: the power sum of what its sends add, with its own gain, before its chain. More is measured
    /// where two of them bring the same sound, less where its chain takes some or two cancel each other.
    /// </summary>
    Predicted,
}

/// <summary>What a processor does, in the order of a meter frame.</summary>
public enum ProcessorMeter
{
    /// <summary>By how much it lowers the sound, dB, 0 or more.</summary>
    Reduction,

    /// <summary>By how much it delays the sound, frames.</summary>
    Latency,

    /// <summary>What it does as a gate: <see cref="Processors.GateState"/>.</summary>
    Gate,
}

/// <summary>
/// Which value stands where in a meter frame: for each source <see cref="SourceValues"/> values, then for each mix
/// <see cref="MixValues"/>, then for each mix and each source one, then for each processor
/// <see cref="ProcessorValues"/>, then for each channel of each cable and of each point of the computer its highest sample since the last frame, dBFS.
/// </summary>
/// <param name="Sources">Sources in the order of their values.</param>
/// <param name="Mixes">Mixes in the order of their values.</param>
/// <param name="Processors">Processors in the order of their values.</param>
/// <param name="Buses">Cables and points of the computer in the order of their values.</param>
public sealed record MeterLayout(
    ImmutableArray<SourceId> Sources, ImmutableArray<MixId> Mixes, ImmutableArray<ProcessorId> Processors, ImmutableArray<BusLayout> Buses)
{
    /// <summary>How many values a source has: those of <see cref="SourceMeter"/>.</summary>
    public const int SourceValues = 8;

    /// <summary>How many values a mix has: those of <see cref="MixMeter"/>.</summary>
    public const int MixValues = 12;

    /// <summary>How many values a processor has: those of <see cref="ProcessorMeter"/>.</summary>
    public const int ProcessorValues = 3;

    /// <summary>How many values a frame has.</summary>
    public int Length => (Sources.Length * SourceValues) + (Mixes.Length * (MixValues + Sources.Length)) + (Processors.Length * ProcessorValues) + Buses.Sum(b => b.Channels);

    /// <summary>True where the same values stand in the same places.</summary>
    public bool IsSameAs(MeterLayout other)
    {
        ArgumentNullException.ThrowIfNull(other);
        return Sources.SequenceEqual(other.Sources) && Mixes.SequenceEqual(other.Mixes) && Processors.SequenceEqual(other.Processors) && Buses.SequenceEqual(other.Buses);
    }
}

/// <summary>A cable or a point of the computer in a meter frame.</summary>
/// <param name="Point">Which.</param>
/// <param name="Channels">How many values it has, one for each channel.</param>
public readonly record struct BusLayout(Point Point, int Channels);

/// <summary>
/// The newest meter frames of one layout, written by the engine and read by anyone. No locks; a frame that is overwritten
/// while it is read is read again.
/// </summary>
public sealed class MeterBoard
{
    private const int Slots = 4;
    private readonly float[][] _slots;
    private readonly long[] _frames = new long[Slots];
    private long _sequence;

    /// <summary>An empty board.</summary>
    public MeterBoard(MeterLayout layout)
    {
        ArgumentNullException.ThrowIfNull(layout);
        Layout = layout;
        _slots = [.. Enumerable.Range(0, Slots).Select(_ => new float[layout.Length])];
    }

    /// <summary>What stands where.</summary>
    public MeterLayout Layout { get; }

    /// <summary>Counts the frames that were published; 0: none yet.</summary>
    public long Sequence => Volatile.Read(ref _sequence);

    /// <summary>Copies the newest frame.</summary>
    /// <param name="values">Room for <see cref="MeterLayout.Length"/> values.</param>
    /// <returns>The engine frame at which it was taken, or −1 where there is none yet.</returns>
    public long Read(Span<float> values)
    {
        while (true)
        {
            var sequence = Sequence;
            if (sequence == 0)
            {
                return -1;
            }

            var slot = (int)(sequence % Slots);
            _slots[slot].CopyTo(values);
            var frame = _frames[slot];
            Thread.MemoryBarrier();
            if (Sequence - sequence < Slots - 1)
            {
                return frame;
            }
        }
    }

    internal float[] Begin() => _slots[(int)((_sequence + 1) % Slots)];

    internal void Publish(long frame)
    {
        _frames[(int)((_sequence + 1) % Slots)] = frame;
        Volatile.Write(ref _sequence, _sequence + 1);
    }
}
