using System.Collections.Immutable;
using System.Numerics.Tensors;
using System.Runtime.Intrinsics;
using System.Text.Json.Serialization;
using Kinetra.Core.Dsp;
using Kinetra.Core.Engine;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Voice;

/// <summary>What of a chain is heard, for oneself alone.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<AuditionKind>))]
public enum AuditionKind
{
    /// <summary>The sound as it would be without a processor, or without the whole chain, as loud as it is with it.</summary>
    Without,

    /// <summary>Only what a processor changes: what it takes away, or adds.</summary>
    Change,

    /// <summary>Only what one part of a processor works on: a band.</summary>
    Part,
}

/// <summary>What somebody wants to hear of a chain.</summary>
/// <param name="Place">The point that the chain leads to: of a source or a mix, after its chain.</param>
/// <param name="Kind">What of it.</param>
/// <param name="Processor">Which processor; null: the whole chain, of <see cref="AuditionKind.Without"/> alone.</param>
/// <param name="Part">Which part, from 0, of <see cref="AuditionKind.Part"/>.</param>
public sealed record AuditionWish(Point Place, AuditionKind Kind, ProcessorId? Processor = null, int Part = 0)
{
    /// <summary>True where a plan has what it takes.</summary>
    public bool FitsIn(EnginePlan plan)
    {
        ArgumentNullException.ThrowIfNull(plan);
        if (Place is not (SourcePoint { Tap: Tap.AfterChain } or MixPoint { Tap: Tap.AfterChain }) || plan.ChannelsOf(Place) == 0)
        {
            return false;
        }

        var chain = plan.ChainOf(Place);
        if (Processor is not { } id)
        {
            return Kind == AuditionKind.Without && chain.Any(p => p.Id != Source.SyncDelayId);
        }

        return id != Source.SyncDelayId && chain.FirstOrDefault(p => p.Id == id)?.Slot.Type is { } type && Kind switch
        {
            AuditionKind.Change => !type.Neutral.IsEmpty,
            AuditionKind.Part => Part >= 0 && Part < type.Parts,
            _ => true,
        };
    }
}

/// <summary>
/// A form of a chain's sound that the engine does not make, for one listener: with a processor, or all, bypassed, or only what one changes. It is made of what
/// goes into the processor, off its ring, by others of the same types with the same values, frame by frame in step with the engine; what the engine gives stays as
/// it is, to the bit. Without something it is as loud as with it, by measurement (<see cref="LoudnessMatch"/>). One thread at a time, never the engine's.
/// </summary>
public sealed class Audition : IDisposable
{
    private const int Block = AudioFormat.BlockFrames;
    private const int MaxBacklog = AudioFormat.SampleRate / 2;

    // Beyond that it is not made louder or quieter: something else is wrong then.
    private const double MostGain = 24;

    private readonly MixEngine _engine;
    private readonly float[][] _blocks = [.. Enumerable.Range(0, 6).Select(_ => new float[Block])];
    private readonly float[] _factors = new float[Block];
    private readonly Vector128<double>[] _frames = new Vector128<double>[Block];
    private readonly LoudnessMatch _match = new();
    private readonly GainRamp _gain = new(1);
    private readonly GainRamp _presence = new(0);
    private EnginePlan? _plan;
    private ImmutableArray<RunningProcessor> _chain = [];
    private Twin[] _twins = [];
    private HeldTap? _input;
    private HeldTap? _with;
    private SectionCascade? _part;
    private ImmutableArray<double> _partOf = [];
    private (float Left, float Right) _last;
    private long _position;

    /// <summary>Begins one.</summary>
    /// <param name="engine">The engine.</param>
    /// <param name="wish">What is heard.</param>
    /// <param name="notBefore">The engine frame before which nothing is made, and nothing measured.</param>
    public Audition(MixEngine engine, AuditionWish wish, long notBefore = -1)
    {
        ArgumentNullException.ThrowIfNull(engine);
        ArgumentNullException.ThrowIfNull(wish);
        (_engine, Wish, _position) = (engine, wish, notBefore);
        Join();
    }

    /// <summary>What of a difference in loudness is made up for, dB.</summary>
    public static double MadeUp(double difference) => Math.Clamp(difference, -MostGain, MostGain);

    /// <summary>What is heard.</summary>
    public AuditionWish Wish { get; }

    /// <summary>Its sound, in stereo, by the engine's frames.</summary>
    public AudioRing Ring { get; } = new(2);

    /// <summary>By how many LU it was louder with than without, which is made up for; null: not known yet, or nothing is made up for.</summary>
    public double? Difference => Wish.Kind == AuditionKind.Without ? _match.Difference : null;

    /// <summary>Makes all that can be made by now.</summary>
    public void CatchUp()
    {
        Join();
        if (_input is null || _input.Ring.Beginning < 0 || _with!.Ring.Beginning < 0)
        {
            return;
        }

        (long, long)? all = (Math.Max(_input.Ring.Beginning, _with.Ring.Beginning), Math.Min(_input.Ring.End, _with.Ring.End));
        foreach (var twin in _twins)
        {
            all = twin.Key.Within(all);
        }

        if (all is not var (begin, end))
        {
            return;
        }

        Turn();
        var from = Math.Max(_position, Math.Max(begin, (end - MaxBacklog) / Block * Block));
        if (Ring.Beginning < 0)
        {
            Ring.Begin(from);
        }

        // The ring goes by the engine's frames: where some are left out, they are silence, which what was last falls to.
        while (Ring.End < from)
        {
            Silence((int)Math.Min(Block, from - Ring.End));
        }

        for (_position = from; _position + Block <= end; _position += Block)
        {
            Make(_position);
        }
    }

    /// <inheritdoc/>
    public void Dispose() => LetGo();

    private void Make(long at)
    {
        Span<float> left = _blocks[0], right = _blocks[1], withLeft = _blocks[2], withRight = _blocks[3];
        KeySound.Copy(_input!.Ring, at, left, right);
        KeySound.Copy(_with!.Ring, at, withLeft, withRight);
        if (_part is not null)
        {
            Filter(left, right);
        }

        foreach (var twin in _twins)
        {
            twin.Process(at, left, right);
        }

        switch (Wish.Kind)
        {
            case AuditionKind.Without:
                _match.Add(withLeft, withRight, left, right);
                _gain.Target = (float)Math.Pow(10, MadeUp(_match.Difference ?? 0) / 20);
                _gain.Fill(_factors);
                Scale(left, right);
                break;
            case AuditionKind.Change:
                TensorPrimitives.Subtract(withLeft, left, left);
                TensorPrimitives.Subtract(withRight, right, right);
                break;
        }

        // Out of what sounded before, softly: the chain has become another, or this begins.
        if (!_presence.IsSettled)
        {
            _presence.Fill(_factors);
            var before = _last;
            Scale(left, right);
            for (var n = 0; n < Block; n++)
            {
                left[n] += before.Left * (1 - _factors[n]);
                right[n] += before.Right * (1 - _factors[n]);
            }
        }

        if (_presence.IsSettled)
        {
            _last = (left[^1], right[^1]);
        }

        Ring.Write(left, right);
    }

    // What was measured with other values says nothing of these.
    private void Turn()
    {
        var isTurned = false;
        foreach (var twin in _twins)
        {
            isTurned |= twin.Turn();
        }

        if (isTurned)
        {
            _match.Restart();
        }
    }

    private void Scale(Span<float> left, Span<float> right)
    {
        TensorPrimitives.Multiply(left, _factors, left);
        TensorPrimitives.Multiply(right, _factors, right);
    }

    private void Silence(int frames)
    {
        Span<float> left = _blocks[4].AsSpan(0, frames), right = _blocks[5].AsSpan(0, frames);
        for (var n = 0; n < frames; n++)
        {
            var stays = 1 - Fade.At((n + 1f) / frames);
            (left[n], right[n]) = (_last.Left * stays, _last.Right * stays);
        }

        _last = default;
        Ring.Write(left, right);
    }

    private void Filter(Span<float> left, Span<float> right)
    {
        var running = _chain[IndexOf(Wish.Processor!.Value)];
        var values = running.Values;
        if (!values.SequenceEqual(_partOf))
        {
            _partOf = values;
            _part!.Set(running.Slot.Type.PartAlone!(values, Wish.Part));
        }

        Pairs.Load(left, right, _frames);
        _part!.Process(_frames);
        Pairs.Store(_frames, left, right);
    }

    private void Join()
    {
        if (_engine.Plan is var plan && plan == _plan)
        {
            return;
        }

        _plan = plan;
        var chain = plan.ChainOf(Wish.Place);
        if (_input is not null && chain.Length == _chain.Length && chain.Zip(_chain).All(p => p.First.IsAs(p.Second)))
        {
            return;
        }

        LetGo();
        _chain = chain;
        if (!Wish.FitsIn(plan))
        {
            return;
        }

        var first = Wish.Processor is { } id ? IndexOf(id) : 0;
        var running = chain[first];
        _input = _engine.Hold(running.Before);
        switch (Wish.Kind)
        {
            case AuditionKind.Without:
                _with = _engine.Hold(Wish.Place);
                var last = Wish.Processor is null ? chain.Length : first + 1;

                // The sync delay is no part of what is compared: without the chain it would come too soon.
                _twins = [.. chain.Skip(first).Select((p, i) => new Twin(_engine, p, first + i < last && p.Id != Source.SyncDelayId ? TwinUse.Bypassed : TwinUse.AsItIs))];
                break;
            case AuditionKind.Change:
                _with = _engine.Hold(new StagePoint(running.Id));
                _twins = [new Twin(_engine, running, TwinUse.Neutral)];
                break;
            default:
                _with = _engine.Hold(running.Before);
                _partOf = running.Values;
                _part = new SectionCascade(running.Slot.Type.PartAlone!(_partOf, Wish.Part));
                break;
        }

        _match.Restart();
        _presence.Target = 0;
        _presence.Arrive();
        _presence.Target = 1;
    }

    private int IndexOf(ProcessorId id)
    {
        for (var i = 0; i < _chain.Length; i++)
        {
            if (_chain[i].Id == id)
            {
                return i;
            }
        }

        return -1;
    }

    private void LetGo()
    {
        _input?.Dispose();
        _with?.Dispose();
        foreach (var twin in _twins)
        {
            twin.Key.Dispose();
        }

        (_input, _with, _part, _twins) = (null, null, null, []);
    }

    private enum TwinUse
    {
        AsItIs,
        Bypassed,
        Neutral,
    }

    // A processor of its own that does what one in the engine does, but for what it is used for.
    private sealed class Twin
    {
        private readonly RunningProcessor _running;
        private readonly TwinUse _use;
        private readonly ChainSlot _slot;
        private ImmutableArray<double> _runs;
        private bool _wasBypassed;

        public Twin(MixEngine engine, RunningProcessor running, TwinUse use)
        {
            (_running, _use, _runs, _wasBypassed) = (running, use, running.Values, running.Slot.IsBypassed);
            _slot = new ChainSlot(running.Slot.Type, new ProcessorSettings(running.Slot.Channels, Values()), IsBypassed());
            Key = new KeySound(engine, running);
        }

        public KeySound Key { get; }

        /// <summary>Takes what the one in the engine is set to now; true where that is something else than before.</summary>
        public bool Turn()
        {
            var (values, isBypassed) = (_running.Values, _running.Slot.IsBypassed);
            if (isBypassed == _wasBypassed && values.SequenceEqual(_runs))
            {
                return false;
            }

            (_runs, _wasBypassed) = (values, isBypassed);
            var mine = Values();
            for (var i = 0; i < mine.Length; i++)
            {
                _slot.Set(i, mine[i]);
            }

            _slot.SetBypassed(IsBypassed());
            return true;
        }

        public void Process(long at, Span<float> left, Span<float> right)
        {
            _slot.Process(left, _slot.Channels == 2 ? right : default, Key.At(at));
            if (_slot.Channels == 1)
            {
                left.CopyTo(right);
            }
        }

        // Of what is only taken away from what the engine gives, the engine's own bypass counts too.
        private bool IsBypassed() => _use == TwinUse.Bypassed || _wasBypassed;

        private ImmutableArray<double> Values()
        {
            var values = _runs;
            if (_use == TwinUse.Neutral)
            {
                foreach (var (key, value) in _running.Slot.Type.Neutral)
                {
                    values = values.SetItem(_running.Slot.Type.IndexOf(key), value);
                }
            }

            return values;
        }
    }
}
