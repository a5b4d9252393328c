using System.Collections.Immutable;
using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Planning;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests;

/// <summary>Small rigs for tests, and an engine that runs one.</summary>
static class Demo
{
    public static readonly MixId Ears = new("ears");
    public static readonly MixId Viewers = new("viewers");

    public static Source Source(string id, SourceKind kind = SourceKind.App) =>
        new() { Id = new(id), Name = id.ToUpperInvariant(), Kind = kind, Input = Given(id) };

    /// <summary>An input whose samples the test gives.</summary>
    public static SourceInput Given(string id) => new BrowserInput("test", id, id, 0, 1);

    public static Rig Rig(params string[] sources) => new()
    {
        Sources = [.. sources.Select(s => Source(s))],
        Mixes =
        [
            Mix(Ears, "My ears", MixPurpose.MyEars, sources),
            Mix(Viewers, "Viewers", MixPurpose.Viewers, sources),
        ],
    };

    public static Mix Mix(MixId id, string name, MixPurpose purpose, params string[] sources) => new()
    {
        Id = id,
        Name = name,
        Purpose = purpose,
        Sends = [.. sources.Select(s => ProposedPlace.Of(SourceKind.App, purpose, new(s)))],
    };

    public static Rig Apply(this Rig rig, RigCommand command) =>
        command.Apply(rig) is CommandResult.Applied applied
            ? applied.Rig
            : throw new InvalidOperationException(string.Join(" ", ((CommandResult.Refused)command.Apply(rig)).Problems));
}

/// <summary>Runs a rig block by block and keeps what every mix gave.</summary>
sealed class Bench
{
    private readonly Dictionary<string, IInlet> _inlets;
    private readonly Dictionary<MixId, (List<float> Left, List<float> Right)> _heard = [];
    private readonly Dictionary<MixId, long> _positions = [];
    private EnginePlan _posted;

    public Bench(Rig rig, Dictionary<string, IInlet> inlets)
    {
        _inlets = inlets;
        Rig = rig;
        _posted = EnginePlan.Build(rig, Inlet, null);
        Engine = new MixEngine(_posted);
    }

    public MixEngine Engine { get; }

    public Rig Rig { get; private set; }

    /// <summary>The rig has changed without a plan.</summary>
    public void Adopt(Rig rig) => Rig = rig;

    public void Add(string id, IInlet inlet) => _inlets[id] = inlet;

    public void Post(RigCommand command, long notBefore = 0)
    {
        Rig = Rig.Apply(command);
        _posted = EnginePlan.Build(Rig, Inlet, _posted);
        Engine.Post(_posted, notBefore);
    }

    public Bench Run(int blocks)
    {
        var left = new float[AudioFormat.BlockFrames];
        var right = new float[AudioFormat.BlockFrames];
        for (var b = 0; b < blocks; b++)
        {
            Engine.ProcessBlock();
            foreach (var mix in Engine.Plan.Mixes)
            {
                var position = _positions.GetValueOrDefault(mix.Id);
                Engine.RingOf(new MixPoint(mix.Id))!.Read(ref position, left, right, out _);
                _positions[mix.Id] = position;
                if (!_heard.TryGetValue(mix.Id, out var heard))
                {
                    _heard[mix.Id] = heard = ([], []);
                }

                heard.Left.AddRange(left);
                heard.Right.AddRange(right);
            }
        }

        return this;
    }

    public float[] Left(MixId mix) => [.. _heard[mix].Left];

    public float[] Right(MixId mix) => [.. _heard[mix].Right];

    public float[] Meters()
    {
        var values = new float[Engine.Plan.Meters.Layout.Length];
        Engine.Plan.Meters.Read(values).ShouldBeGreaterThan(0);
        return values;
    }

    private IInlet Inlet(Source source) => _inlets[source.Id.Value];
}
