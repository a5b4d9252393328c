using System.Collections.Immutable;
using Kinetra.Core.Engine;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Voice;

/// <summary>One way to treat a loop.</summary>
/// <param name="Id">Its identity, by which it is a source of the bench's engine.</param>
/// <param name="Name">1–60 characters.</param>
/// <param name="Chain">Its processors.</param>
public sealed record BenchVariant(SourceId Id, string Name, ImmutableArray<Processor> Chain);

/// <summary>
/// A stretch of sound that plays round and round through several chains at once, in an engine of its own: nothing of it reaches the show. Its points are heard and measured like
/// the show's, and what is turned is turned in it. Another sound may go round beside it, in step: speech over a bed. Whatever a processor listens to, it hears that, or nobody.
/// Several threads may use it.
/// </summary>
public sealed class LoopBench
{
    /// <summary>The most variants beside one another.</summary>
    public const int MostVariants = 8;

    /// <summary>The sound without any chain.</summary>
    public static readonly SourceId Plain = new("plain");

    /// <summary>What processors hear that listen to somebody; silence where nothing goes round beside it.</summary>
    public static readonly SourceId Key = new("key");

    /// <summary>What is heard beside it; silence where nothing is.</summary>
    public static readonly SourceId Beside = new("beside");

    private const int Block = AudioFormat.BlockFrames;

    // Who was away for long goes on where it stood; it does not make up for it.
    private const long MostBehind = AudioFormat.SampleRate / 2;

    private readonly Lock _running = new();
    private readonly StandingInlet _inlet;
    private readonly StandingInlet _key;
    private readonly StandingInlet _beside;
    private readonly Dictionary<(ProcessorId Processor, string Key), double> _turned = [];
    private ImmutableArray<BenchVariant> _variants = [];
    private EnginePlan _plan;
    private long _offset;
    private bool _hasBegun;

    /// <summary>A bench.</summary>
    /// <param name="loop">What goes round; at least a frame.</param>
    /// <param name="variants">At most <see cref="MostVariants"/>.</param>
    /// <param name="beside">What goes round beside it, as long; null: nothing.</param>
    public LoopBench(SoundBuffer loop, ImmutableArray<BenchVariant> variants, SoundBeside? beside = null)
    {
        ArgumentNullException.ThrowIfNull(loop);
        ArgumentOutOfRangeException.ThrowIfNotEqual(beside?.Key.Frames ?? loop.Frames, loop.Frames, nameof(beside));
        ArgumentOutOfRangeException.ThrowIfNotEqual(beside?.Heard.Frames ?? loop.Frames, loop.Frames, nameof(beside));
        (Loop, _inlet, HasBeside) = (loop, new StandingInlet(loop), beside is not null);
        var silence = new SoundBuffer(new float[Block], null);
        (_key, _beside) = (new StandingInlet(beside?.Key ?? silence), new StandingInlet(beside?.Heard ?? silence));
        _plan = EnginePlan.Build(RigOf(variants), Inlet, null);
        Engine = new MixEngine(_plan);
        _variants = variants;
    }

    /// <summary>What goes round.</summary>
    public SoundBuffer Loop { get; }

    /// <summary>Whether something goes round beside it.</summary>
    public bool HasBeside { get; }

    /// <summary>Its engine, whose time is its own; it runs with <see cref="CatchUp"/>.</summary>
    public MixEngine Engine { get; }

    /// <summary>What its engine plays, or will play with its next block.</summary>
    public EnginePlan Plan => Volatile.Read(ref _plan);

    /// <summary>How it is treated.</summary>
    public ImmutableArray<BenchVariant> Variants
    {
        get
        {
            lock (_running)
            {
                return _variants;
            }
        }
    }

    /// <summary>The show that its engine plays: the rules for chains hold in it.</summary>
    public static Rig RigOf(ImmutableArray<BenchVariant> variants)
    {
        ArgumentOutOfRangeException.ThrowIfGreaterThan(variants.Length, MostVariants);
        return new Rig
        {
            Sources =
            [
                Of(Plain, []),
                Of(Key, []),
                Of(Beside, []),
                .. variants.Select(v => Of(v.Id, [.. v.Chain.Select(p => p with { Keys = p.Keys.IsEmpty ? [] : [new SourcePoint(Key)] })])),
            ],
        };
    }

    /// <summary>Has other variants; what has the same processors as before goes on, and is turned.</summary>
    public void Set(ImmutableArray<BenchVariant> variants)
    {
        lock (_running)
        {
            _variants = variants;
            _turned.Clear();
            Play();
        }
    }

    /// <summary>Lets a processor be heard with another value of a parameter for as long as it is turned; null: as it was set. What is unknown changes nothing.</summary>
    public void Turn(ProcessorId processor, string key, double? value)
    {
        lock (_running)
        {
            if (value is { } wanted)
            {
                _turned[(processor, key)] = wanted;
            }
            else
            {
                _turned.Remove((processor, key));
            }

            Play();
        }
    }

    /// <summary>Computes until the frame of its own engine that stands beside one of the show's.</summary>
    /// <param name="frame">The show's engine's frame.</param>
    /// <returns>How far it is, in the show's frames.</returns>
    public long CatchUp(long frame)
    {
        lock (_running)
        {
            if (!_hasBegun || frame - _offset - Engine.Frame > MostBehind || frame - _offset - Engine.Frame < -MostBehind)
            {
                _offset = (frame / Block * Block) - Engine.Frame;
                _hasBegun = true;
            }

            while (Engine.Frame + Block <= frame - _offset)
            {
                Engine.ProcessBlock();
            }

            return Engine.Frame + _offset;
        }
    }

    /// <summary>Where in the loop something is that leaves a variant.</summary>
    /// <param name="frame">The engine's own frame of it.</param>
    /// <param name="latency">By how many frames the variant is late.</param>
    /// <returns>0 … the loop's length − 1.</returns>
    public int PositionOf(long frame, int latency = 0) => (int)((((frame - latency) % Loop.Frames) + Loop.Frames) % Loop.Frames);

    private static Source Of(SourceId id, ImmutableArray<Processor> chain) =>
        new() { Id = id, Name = id.Value, Kind = SourceKind.App, Input = new BrowserInput("bench", id.Value, id.Value, 0, 1), Chain = chain };

    private static Processor Turned(Processor processor, string key, double value) =>
        ProcessorTypes.Find(processor.Type)?.Parameters.FirstOrDefault(p => p.Key == key) is { } parameter && value >= parameter.Min && value <= parameter.Max
            ? processor with { Values = processor.Values.SetItem(key, value) }
            : processor;

    private StandingInlet Inlet(Source source) => source.Id == Beside ? _beside : source.Id == Key ? _key : _inlet;

    // What the rules do not allow is not played.
    private void Play()
    {
        var rig = RigOf(_variants);
        foreach (var ((processor, key), value) in _turned)
        {
            rig = rig with { Sources = [.. rig.Sources.Select(s => s with { Chain = [.. s.Chain.Select(p => p.Id == processor ? Turned(p, key, value) : p)] })] };
        }

        var plan = EnginePlan.Build(rig, Inlet, _plan);
        Volatile.Write(ref _plan, plan);
        Engine.Post(plan);
    }
}
