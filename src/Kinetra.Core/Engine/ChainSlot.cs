using System.Numerics.Tensors;
using System.Runtime.CompilerServices;
using Kinetra.Core.Dsp;
using Kinetra.Core.Processors;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Engine;

/// <summary>
/// One place in a chain: a processor, what it needs to be bypassed without a click and without a shift in time, and to enter
/// and to leave while sound runs. Bypassed, it goes on listening, so that it knows the sound when it comes back.
/// </summary>
public sealed class ChainSlot
{
    private const int MaxLatency = 2_048;

    private readonly IProcessor _processor;
    private readonly SteppedDelay[] _dry;
    private readonly float[] _dryLeft = new float[AudioFormat.BlockFrames];
    private readonly float[] _dryRight;
    private readonly float[] _wetLeft = new float[AudioFormat.BlockFrames];
    private readonly float[] _wetRight;
    private readonly float[] _factors = new float[AudioFormat.BlockFrames];
    private readonly double[] _values;
    private readonly GainRamp _active;
    private readonly GainRamp _presence;

    // Of what leaves it: while its chain, or some of it, is set aside for a comparison, that is made as loud.
    private readonly GainRamp _madeUp = new(1);
    private bool _isBypassed;
    private bool _isAside;

    // Of a processor that keeps sound: what it gets, from when it enters on. Else what it gives would begin hard, long after it has come in.
    private readonly GainRamp _arrival = new(1);
    private readonly float[][] _stage;
    private bool _hasHeard;
    private bool _isEntering;
    private int _knows;

    /// <summary>Makes a slot.</summary>
    /// <param name="type">What stands in it.</param>
    /// <param name="settings">Channels and first values.</param>
    /// <param name="isBypassed">Whether it is bypassed at first.</param>
    /// <param name="isPresent">False: it enters with the first sound, faded in.</param>
    public ChainSlot(ProcessorType type, ProcessorSettings settings, bool isBypassed = false, bool isPresent = true)
    {
        ArgumentNullException.ThrowIfNull(type);
        Type = type;
        _processor = type.Make(settings);
        _values = [.. settings.Values];
        Channels = settings.Channels;
        var isStereo = settings.Channels == 2;
        _dryRight = isStereo ? new float[AudioFormat.BlockFrames] : [];
        _wetRight = isStereo ? new float[AudioFormat.BlockFrames] : [];
        _dry = [.. Enumerable.Range(0, type.IsPrompt ? 0 : settings.Channels).Select(_ => new SteppedDelay(MaxLatency, _processor.Latency))];
        _stage = isStereo ? [new float[AudioFormat.BlockFrames], new float[AudioFormat.BlockFrames]] : [new float[AudioFormat.BlockFrames]];
        Stage = Outlet.OnRequest(_stage);
        _isBypassed = isBypassed;
        _active = new GainRamp(isBypassed ? 0 : 1);
        _presence = new GainRamp(isPresent ? 1 : 0);
    }

    /// <summary>What stands in it.</summary>
    public ProcessorType Type { get; }

    /// <summary>1 or 2.</summary>
    public int Channels { get; }

    /// <summary>Frames by which it delays the sound, bypassed or not.</summary>
    public int Latency => _processor.Latency;

    /// <summary>By how much it lowers the sound now, dB, 0 or more; 0 where it is bypassed.</summary>
    public double Reduction => _active.IsSettled && _active.Current == 0 ? 0 : _processor.Reduction;

    /// <summary>What it does, if it is a gate that is not bypassed.</summary>
    public GateState Gate => _active.IsSettled && _active.Current == 0 ? GateState.None : _processor.Gate;

    /// <summary>What leaves it, for whoever looks into the chain; given on request.</summary>
    internal Outlet Stage { get; }

    /// <summary>True where all that is heard is the processor, and nothing in that is on its way.</summary>
    internal bool IsSteady => IsWhole && _processor.IsSteady;

    /// <summary>True once it has faded out after <see cref="Leave"/>.</summary>
    public bool HasLeft => _presence.IsSilent;

    /// <summary>True where it passes the sound unchanged, or is about to.</summary>
    public bool IsBypassed => _active.Target == 0;

    /// <summary>What a parameter is set to now, by its place in the type's list. Any thread.</summary>
    public double ValueOf(int parameter) => Volatile.Read(ref _values[parameter]);

    /// <summary>Sets a parameter by its place in the type's list.</summary>
    public void Set(int parameter, double value)
    {
        if (_values[parameter] != value)
        {
            _values[parameter] = value;
            _processor.Set(parameter, value);
        }
    }

    /// <summary>Bypasses it, or lets it work again.</summary>
    public void SetBypassed(bool on)
    {
        _isBypassed = on;
        Aim();
    }

    /// <summary>Sets it aside for a comparison, as if it were bypassed; or puts it back.</summary>
    internal void SetAside(bool on)
    {
        _isAside = on;
        Aim();
    }

    /// <summary>Makes what leaves it louder or softer by a factor, while some of its chain is set aside; 1: as it is.</summary>
    internal void MakeUp(float factor) => _madeUp.Target = factor;

    /// <summary>Fades it in, once what waits in it is of this place.</summary>
    public void Enter()
    {
        if (_presence.Target == 0 && !_isEntering)
        {
            (_isEntering, _knows) = (true, 0);
            if (Type.KeepsSound && _presence.IsSilent)
            {
                // What it has kept is of another place. Where it is on its way out still, it has heard all along.
                if (_hasHeard)
                {
                    _processor.Reset();
                }

                _arrival.Target = 0;
                _arrival.Arrive();
                _arrival.Target = 1;
            }
        }
    }

    /// <summary>Fades it out.</summary>
    public void Leave() => (_isEntering, _presence.Target) = (false, 0);

    /// <summary>Forgets all it has heard; changes have arrived.</summary>
    public void Reset()
    {
        _processor.Reset();
        foreach (var dry in _dry)
        {
            dry.Set(_processor.Latency);
            dry.Reset();
        }

        _active.Arrive();
        _madeUp.Arrive();
        _presence.Arrive();
        _arrival.Arrive();
    }

    /// <summary>Processes frames in place, at most a block of them. What comes out is finite, whatever comes in.</summary>
    public void Process(Span<float> left, Span<float> right, Frames key)
    {
        var length = left.Length;
        var isStereo = right.Length > 0;
        SampleGuard.MakeFinite(left);
        SampleGuard.MakeFinite(right);
        _hasHeard = true;
        if (IsWhole)
        {
            PassDry(left, right);
            _processor.Process(new Frames(left, right), new RoomForFrames(left, right), key);
            Leaves(left, right);
            return;
        }

        Span<float> dryLeft = _dryLeft.AsSpan(0, length), wetLeft = _wetLeft.AsSpan(0, length);
        Span<float> dryRight = isStereo ? _dryRight.AsSpan(0, length) : default, wetRight = isStereo ? _wetRight.AsSpan(0, length) : default;
        if (_arrival.IsSettled)
        {
            _processor.Process(new Frames(left, right), new RoomForFrames(wetLeft, wetRight), key);
        }
        else
        {
            // The room for what is heard beside it is free until then.
            left.CopyTo(dryLeft);
            right.CopyTo(dryRight);
            var factors = _factors.AsSpan(0, length);
            _arrival.Fill(factors);
            TensorPrimitives.Multiply(dryLeft, factors, dryLeft);
            TensorPrimitives.Multiply(dryRight, factors[..right.Length], dryRight);
            _processor.Process(new Frames(dryLeft, dryRight), new RoomForFrames(wetLeft, wetRight), key);
        }

        if (Type.IsPrompt)
        {
            left.CopyTo(dryLeft);
            right.CopyTo(dryRight);
        }
        else
        {
            _dry[0].Set(_processor.Latency);
            _dry[0].Process(left, dryLeft);
            if (isStereo)
            {
                _dry[1].Set(_processor.Latency);
                _dry[1].Process(right, dryRight);
            }
        }

        if (_isEntering && (_knows += length) > _processor.Latency + length)
        {
            (_isEntering, _presence.Target) = (false, 1);
        }

        Blend(_active, dryLeft, dryRight, wetLeft, wetRight);
        Blend(_presence, left, right, wetLeft, wetRight);
        wetLeft.CopyTo(left);
        wetRight.CopyTo(right);
        Leaves(left, right);
    }

    /// <summary>Joins those that are computed side by side, with its block.</summary>
    internal void Join(LaneGroup group, float[] left, float[] right)
    {
        PassDry(left, right);
        group.Add(_processor, left, right);
    }

    /// <summary>After they were.</summary>
    internal void Joined(Span<float> left, Span<float> right) => Leaves(left, right);

    private void Aim() => _active.Target = _isBypassed || _isAside ? 0 : 1;

    // What leaves is finite; of who looks into the chain, a copy.
    private void Leaves(Span<float> left, Span<float> right)
    {
        if (!_madeUp.IsSettled || _madeUp.Current != 1)
        {
            var factors = _factors.AsSpan(0, left.Length);
            _madeUp.Fill(factors);
            TensorPrimitives.Multiply(left, factors, left);
            TensorPrimitives.Multiply(right, factors[..right.Length], right);
        }

        SampleGuard.MakeFinite(left);
        SampleGuard.MakeFinite(right);
        if (Stage.GivesNow())
        {
            left.CopyTo(_stage[0]);
            right.CopyTo(_stage[^1].AsSpan(0, right.Length));
        }
    }

    // What would be heard if it were bypassed is kept, and not made.
    private void PassDry(ReadOnlySpan<float> left, ReadOnlySpan<float> right)
    {
        if (Type.IsPrompt)
        {
            return;
        }

        _dry[0].Pass(left, _processor.Latency);
        if (right.Length > 0)
        {
            _dry[1].Pass(right, _processor.Latency);
        }
    }

    // All that is heard is the processor.
    private bool IsWhole => !_isEntering && _active.IsSettled && _active.Current == 1 && _presence.IsSettled && _presence.Current == 1;

    // Of the wet sound as much as the ramp says, of the other the rest; into the wet.
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void Blend(GainRamp ramp, ReadOnlySpan<float> left, ReadOnlySpan<float> right, Span<float> wetLeft, Span<float> wetRight)
    {
        if (ramp.IsSettled && ramp.Current == 1)
        {
            return;
        }

        if (ramp.IsSilent)
        {
            left.CopyTo(wetLeft);
            right.CopyTo(wetRight);
            return;
        }

        var factors = _factors.AsSpan(0, left.Length);
        ramp.Fill(factors);
        for (var n = 0; n < left.Length; n++)
        {
            wetLeft[n] = left[n] + ((wetLeft[n] - left[n]) * factors[n]);
        }

        for (var n = 0; n < right.Length; n++)
        {
            wetRight[n] = right[n] + ((wetRight[n] - right[n]) * factors[n]);
        }
    }
}
