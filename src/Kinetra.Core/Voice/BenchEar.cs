using System.Numerics.Tensors;
using Kinetra.Core.Dsp;
using Kinetra.Core.Engine;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Voice;

/// <summary>
/// One listener at a bench. From one variant to another it turns at the same moment of the loop, to the frame, however late one of them is by itself; each with the gain that makes all
/// equally loud. What goes round beside the loop is heard with each. By the show's frames. One thread at a time, never the engine's.
/// </summary>
public sealed class BenchEar : IDisposable
{
    private const int Block = AudioFormat.BlockFrames;
    private const long MostBehind = AudioRing.Capacity / 2;

    /// <summary>All are heard so much later than the bench computes them, frames: as late as the latest may be by itself. One that is less late is read by so much earlier.</summary>
    public const int Back = 16 * AudioFormat.BlockFrames;

    private readonly LoopBench _bench;
    private readonly Dictionary<SourceId, Voice> _voices = [];
    private readonly Crossing<Voice?> _heard = new(null);
    private readonly GainRamp _besideGain = new(0);
    private readonly HeldTap? _beside;
    private readonly float[] _left = new float[Block];
    private readonly float[] _right = new float[Block];
    private readonly float[] _oldLeft = new float[Block];
    private readonly float[] _oldRight = new float[Block];
    private readonly float[] _factors = new float[Block];

    /// <summary>Begins to listen.</summary>
    public BenchEar(LoopBench bench)
    {
        ArgumentNullException.ThrowIfNull(bench);
        _bench = bench;
        _beside = bench.HasBeside ? bench.Engine.Hold(new SourcePoint(LoopBench.Beside)) : null;
    }

    /// <summary>What is heard.</summary>
    public AudioRing Ring { get; } = new(2);

    /// <summary>Which variant is heard, or is about to be; null: none.</summary>
    public SourceId? Variant => _heard.Wanted?.Id;

    /// <summary>The show's frame and the place in the loop that was heard at it, from which both go on side by side; null: nothing was heard yet.</summary>
    public (long Frame, int Position)? At { get; private set; }

    /// <summary>Turns to a variant, or to the sound without any (<see cref="LoopBench.Plain"/>).</summary>
    /// <param name="variant">Which; one that is not there is silence.</param>
    /// <param name="gain">What makes it as loud as the others, linear.</param>
    public void Hear(SourceId variant, double gain)
    {
        if (!_voices.TryGetValue(variant, out var voice))
        {
            _voices[variant] = voice = new Voice(variant, _bench.Engine.Hold(new SourcePoint(variant)), new GainRamp((float)gain));
        }

        voice.Gain.Target = (float)gain;
        _heard.Set(voice);
    }

    /// <summary>Makes all that can be made by the show's frame.</summary>
    public void CatchUp(long frame)
    {
        var until = _bench.CatchUp(frame);
        var offset = until - _bench.Engine.Frame;
        if (Ring.Beginning < 0 || until - Ring.End > MostBehind)
        {
            // The ring goes by the show's frames: what was not made is silence.
            Ring.Begin(until);
            while (Ring.End < until - Block)
            {
                Array.Clear(_left);
                Ring.Write(_left, _left);
            }
        }

        while (Ring.End + Block <= until)
        {
            Make(Ring.End - offset);
            At = (Ring.End, _bench.PositionOf(Ring.End - offset, Back));
        }
    }

    /// <inheritdoc/>
    public void Dispose()
    {
        foreach (var voice in _voices.Values)
        {
            voice.Tap.Dispose();
        }

        _voices.Clear();
        _beside?.Dispose();
    }

    private void Make(long at)
    {
        _heard.Begin();
        Read(_heard.Now, at, _left, _right);
        if (_heard.IsCrossing)
        {
            Read(_heard.Old, at, _oldLeft, _oldRight);
            _heard.Blend(_oldLeft, _left);
            _heard.Blend(_oldRight, _right);
        }

        // Whoever hears nothing of it hears nothing beside it either.
        if (_beside is not null)
        {
            _besideGain.Target = _heard.Wanted is null ? 0 : 1;
            KeySound.Copy(_beside.Ring, at - Back, _oldLeft, _oldRight);
            _besideGain.Fill(_factors);
            TensorPrimitives.MultiplyAdd(_oldLeft, _factors, _left, _left);
            TensorPrimitives.MultiplyAdd(_oldRight, _factors, _right, _right);
        }

        _heard.End(Block);
        Ring.Write(_left, _right);
    }

    private void Read(Voice? voice, long at, float[] left, float[] right)
    {
        if (voice is null)
        {
            Array.Clear(left);
            Array.Clear(right);
            return;
        }

        KeySound.Copy(voice.Tap.Ring, at - Back + Math.Min(Back, _bench.Engine.Plan.LatencyOf(voice.Tap.Tapped.Point)), left, right);
        voice.Gain.Fill(_factors);
        TensorPrimitives.Multiply(left, _factors, left);
        TensorPrimitives.Multiply(right, _factors, right);
    }

    private sealed record Voice(SourceId Id, HeldTap Tap, GainRamp Gain);
}
