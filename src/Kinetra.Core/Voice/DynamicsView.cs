using System.Collections.Immutable;
using System.Numerics.Tensors;
using Kinetra.Core.Engine;
using Kinetra.Core.Processors;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Voice;

/// <summary>What one processor did in one block, of the samples that went in and came out.</summary>
/// <param name="Heard">The highest that it listened to, dB; of a processor that listens to nothing, not a number.</param>
/// <param name="Reduction">By how much it lowered the sound at most, dB, 0 or more; 0 where it is bypassed.</param>
/// <param name="In">The highest sample that went in, dBFS.</param>
/// <param name="Out">The highest of the same frames as they came out, dBFS.</param>
/// <param name="Gain">What came out over what went in, RMS, dB; not a number below −90 dBFS.</param>
/// <param name="Gate">What it did as a gate.</param>
public readonly record struct DynamicsBlock(float Heard, float Reduction, float In, float Out, float Gain, GateState Gate);

/// <summary>
/// Looks at a processor that runs in the engine, block by block: at what goes in, at what it listens to and at what comes out, off their rings. What it
/// listened to is found by a second one of its type with the same values, fed the same blocks: the engine does not have to tell. Not safe for several
/// threads; none of them the engine's.
/// </summary>
public sealed class DynamicsView : IDisposable
{
    /// <summary>Who is further behind than this goes on with the newest, frames: half a second.</summary>
    public const int MaxBacklog = AudioFormat.SampleRate / 2;

    private const int Block = AudioFormat.BlockFrames;
    private const float Quiet = -90;

    private readonly MixEngine _engine;
    private readonly ProcessorId _id;
    private readonly float[] _left = new float[Block];
    private readonly float[] _right = new float[Block];
    private readonly float[] _outLeft = new float[Block];
    private readonly float[] _outRight = new float[Block];
    private RunningProcessor? _running;
    private IProcessor? _twin;
    private HeldTap? _before;
    private HeldTap? _after;
    private KeySound? _key;
    private ImmutableArray<double> _values = [];
    private EnginePlan? _plan;

    /// <summary>Begins to look; what comes from now on is seen.</summary>
    public DynamicsView(MixEngine engine, ProcessorId id)
    {
        ArgumentNullException.ThrowIfNull(engine);
        (_engine, _id) = (engine, id);
        Join();
    }

    /// <summary>The engine frame after the last block that was read.</summary>
    public long Position { get; private set; } = -1;

    /// <summary>What it looks at; null: it is not there now.</summary>
    public ProcessorType? Type => _running?.Slot.Type;

    /// <summary>Reads what is there.</summary>
    /// <param name="blocks">Where to: at most as many as it has room for.</param>
    /// <returns>How many.</returns>
    public int Read(Span<DynamicsBlock> blocks)
    {
        Join();
        if (_running is null || _before!.Ring.Beginning < 0 || _after!.Ring.Beginning < 0)
        {
            return 0;
        }

        TurnTwin();
        var both = (Math.Max(_before.Ring.Beginning, _after.Ring.Beginning), Math.Min(_before.Ring.End, _after.Ring.End - _twin!.Latency));
        if (_key!.Within(both) is not var (begin, end))
        {
            return 0;
        }

        Position = Math.Max(Position, Math.Max(begin, WholeBlocks(end - MaxBacklog)));
        var count = 0;
        while (count < blocks.Length && Position + Block <= end)
        {
            blocks[count++] = Look(Position);
            Position += Block;
        }

        return count;
    }

    /// <inheritdoc/>
    public void Dispose() => LetGo();

    private DynamicsBlock Look(long at)
    {
        var isStereo = _running!.Slot.Channels == 2;
        KeySound.Copy(_before!.Ring, at, _left, _right);
        KeySound.Copy(_after!.Ring, at + _twin!.Latency, _outLeft, _outRight);
        Span<float> right = isStereo ? _right : [], outRight = isStereo ? _outRight : [];
        var (levelIn, levelOut) = (Rms(_left, right), Rms(_outLeft, outRight));
        var (peakIn, peakOut) = (Peak(_left, right), Peak(_outLeft, outRight));
        _twin.Process(new Frames(_left, right), new RoomForFrames(_left, right), _key!.At(at));
        var isBypassed = _running.Slot.IsBypassed;
        return new DynamicsBlock(
            (float)_twin.Heard, isBypassed ? 0 : (float)_twin.Reduction, peakIn, peakOut, levelIn > Quiet ? levelOut - levelIn : float.NaN, isBypassed ? GateState.None : _twin.Gate);
    }

    private void Join()
    {
        if (_engine.Plan is var plan && plan == _plan)
        {
            return;
        }

        _plan = plan;
        var running = plan.Find(_id);
        if (running is not null && running.IsAs(_running))
        {
            return;
        }

        LetGo();
        if (running is null)
        {
            return;
        }

        _running = running;
        _values = running.Values;
        _twin = running.Slot.Type.Make(new ProcessorSettings(running.Slot.Channels, _values));
        (_before, _after, _key) = (_engine.Hold(running.Before), _engine.Hold(new StagePoint(_id)), new KeySound(_engine, running));
        Position = -1;
    }

    private void TurnTwin()
    {
        var values = _running!.Values;
        for (var i = 0; i < values.Length; i++)
        {
            if (values[i] != _values[i])
            {
                _twin!.Set(i, values[i]);
            }
        }

        _values = values;
    }

    private void LetGo()
    {
        _before?.Dispose();
        _after?.Dispose();
        _key?.Dispose();
        (_running, _twin, _before, _after, _key) = (null, null, null, null, null);
    }

    private static long WholeBlocks(long frame) => frame / Block * Block;

    private static float Rms(ReadOnlySpan<float> left, ReadOnlySpan<float> right)
    {
        var square = TensorPrimitives.SumOfSquares(left) + (right.IsEmpty ? 0 : TensorPrimitives.SumOfSquares(right));
        return 10 * MathF.Log10(MathF.Max(1e-16f, square / Block / (right.IsEmpty ? 1 : 2)));
    }

    private static float Peak(ReadOnlySpan<float> left, ReadOnlySpan<float> right)
    {
        var peak = Math.Max(Math.Abs(TensorPrimitives.MaxMagnitude(left)), right.IsEmpty ? 0 : Math.Abs(TensorPrimitives.MaxMagnitude(right)));
        return 20 * MathF.Log10(MathF.Max(1e-8f, peak));
    }
}
