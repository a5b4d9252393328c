using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Gear.Practice;

namespace Kinetra.Gear.Tests;

/// <summary>The practice computer for tests, and an engine beside it.</summary>
static class Practice
{
    /// <summary>As when it is new.</summary>
    public static RunningGear Running(StandIns sounds)
    {
        var computer = new PracticeComputer(sounds);
        computer.Become(PracticeCatalog.Initial());
        return new RunningGear(PracticeCatalog.Initial(), computer.Sound);
    }

    /// <summary>As a show wants it.</summary>
    public static RunningGear Running(StandIns sounds, Wishes wishes, Rig rig)
    {
        var computer = new PracticeComputer(sounds);
        var state = Wished(PracticeCatalog.Initial(), wishes, rig);
        computer.Become(state);
        return new RunningGear(state, computer.Sound);
    }

    /// <summary>By how many frames half a second of what is heard lies behind the sound.</summary>
    public static int LagOf(float[] heard, float[] sound, int from) => Enumerable.Range(0, 2_400).MaxBy(lag =>
    {
        double sum = 0, energy = 1e-9;
        for (var n = 0; n < 24_000; n++)
        {
            double played = sound[(from + n - lag) % sound.Length];
            sum += heard[from + n] * played;
            energy += played * played;
        }

        // Or the loudest second would be the likest.
        return sum / Math.Sqrt(energy);
    });

    /// <summary>A computer on which one press has done all that a show wants of it.</summary>
    public static GearState Wished(GearState gear, Wishes wishes, Rig rig) =>
        Fulfilment.Of(wishes, gear, CablesNow.Of(rig), default)
            .Aggregate(gear, (g, unmet) => ((GearOutcome.Done)Fulfilment.ChangeFor(unmet).Apply(g, CablesNow.Of(rig), default)).State);
}

/// <summary>A show beside the practice computer, block by block.</summary>
sealed class PracticeBench
{
    private readonly PracticeComputer _computer;
    private readonly Dictionary<Point, (HeldTap Tap, List<float> Left, List<float> Right)> _heard = [];
    private readonly Rig _rig;
    private EnginePlan _plan;

    public PracticeBench(StandIns sounds, Rig rig, Func<GearState, GearState>? first = null, params Point[] listenTo)
    {
        (_computer, _rig) = (new PracticeComputer(sounds), rig);
        State = first is null ? PracticeCatalog.Initial() : first(PracticeCatalog.Initial());
        _computer.Become(State);
        _plan = EnginePlan.Build(rig, _ => new SilentInlet(), null, gear: new RunningGear(State, _computer.Sound));
        Engine = new MixEngine(_plan);
        foreach (var point in listenTo)
        {
            _heard[point] = (Engine.Hold(point), [], []);
        }
    }

    public MixEngine Engine { get; }

    public GearState State { get; private set; }

    public PracticeComputer Computer => _computer;

    /// <summary>The computer is another from now on.</summary>
    public void Become(Func<GearState, GearState> change)
    {
        State = change(State);
        _computer.Become(State);
        _plan = EnginePlan.Build(_rig, _ => new SilentInlet(), _plan, gear: new RunningGear(State, _computer.Sound));
        Engine.Post(_plan);
    }

    /// <summary>Lets time pass that nobody listens to.</summary>
    /// <param name="seconds">How long.</param>
    /// <param name="look">Looked at after each second.</param>
    public PracticeBench Pass(double seconds, Action look)
    {
        _computer.Serve(_plan);
        for (var second = 0; second < seconds; second++)
        {
            for (var block = 0; block < 188; block++)
            {
                Engine.ProcessBlock();
            }

            look();
        }

        return this;
    }

    public PracticeBench Run(double seconds)
    {
        var (left, right) = (new float[AudioFormat.BlockFrames], new float[AudioFormat.BlockFrames]);
        for (var blocks = (int)Math.Ceiling(seconds * AudioFormat.SampleRate / AudioFormat.BlockFrames); blocks > 0; blocks--)
        {
            Engine.ProcessBlock();
            foreach (var (tap, lefts, rights) in _heard.Values)
            {
                var position = Engine.Frame - AudioFormat.BlockFrames;
                tap.Ring.Read(ref position, left, right, out _);
                lefts.AddRange(left);
                rights.AddRange(right);
            }
        }

        return this;
    }

    public float[] Left(Point point) => [.. _heard[point].Left];

    public float[] Right(Point point) => [.. _heard[point].Right];
}
