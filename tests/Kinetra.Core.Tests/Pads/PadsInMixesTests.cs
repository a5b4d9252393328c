using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Pads;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Pads;

public class PadsInMixesTests
{
    // 0.25 in the middle of two channels.
    private const float One = 0.17677669f;

    private static readonly SourceId Voice = new("voice"), Pads = new("pads"), Stings = new("stings");
    private static readonly MixId Viewers = new("viewers"), Guest = new("guest");

    [Fact]
    public void A_pad_is_heard_by_those_who_hear_its_source_as_loud_as_its_send_says_and_by_nobody_else()
    {
        var stage = new Stage(Send(Viewers, Pads, -6), Dock(Guest, Pads));
        stage.Press(Pads, at: 5000, dim: 0);
        stage.Run(100);
        var factor = new Gain(-6).Linear;
        stage.Heard(Viewers)[20_000].ShouldBe((float)(One + (One * factor)), 1e-5f);
        stage.Heard(Viewers)[4_999].ShouldBe(One, 1e-5f);
        stage.Heard(Guest)[20_000].ShouldBe(One, 1e-5f);
    }

    [Fact]
    public void What_dims_all_else_dims_it_for_those_alone_who_hear_the_pad()
    {
        var stage = new Stage(Dock(Guest, Pads));
        stage.Press(Pads, at: 5000, dim: 12);
        stage.Run(100);
        var factor = (float)new Gain(-12).Linear;
        stage.Heard(Viewers)[20_000].ShouldBe(One + (One * factor), 1e-5f);
        stage.Heard(Guest)[20_000].ShouldBe(One, 1e-5f, "the guest hears no pad, and so nothing goes down for the guest");
    }

    [Fact]
    public void A_pad_of_another_source_goes_down_too_though_nobody_hears_both()
    {
        var stage = new Stage(Dock(Guest, Pads), Dock(Viewers, Stings), Dock(Viewers, Voice), Dock(Guest, Voice));
        stage.Press(Stings, at: 0, dim: 0);
        stage.Press(Pads, at: 5000, dim: 12);
        stage.Run(100);
        stage.Heard(Guest)[20_000].ShouldBe(One * (float)new Gain(-12).Linear, 1e-5f);
    }

    [Fact]
    public void Muting_docking_or_removing_the_pads_while_they_dim_is_no_step_for_what_comes_back()
    {
        foreach (var command in new RigCommand[] { new SetSend(Viewers, Pads, Muted: true), new SetSend(Viewers, Pads, Heard: false), new RemoveSource(Pads) })
        {
            var stage = new Stage();
            stage.Press(Pads, at: 0, dim: 20);
            stage.Run(40);
            stage.Do(command);
            stage.Run(60);
            var heard = stage.Heard(Viewers);
            heard[^1].ShouldBe(One, 1e-5f);
            heard.Zip(heard.Skip(1)).Skip(1000).Max(p => Math.Abs(p.First - p.Second)).ShouldBeLessThan(2e-3f, command.ToString());
        }
    }

    [Fact]
    public void The_loudness_of_a_send_that_is_dimmed_is_told_as_it_is_heard()
    {
        var stage = new Stage(isTone: true);
        stage.Run(150);
        var before = stage.Momentary(Viewers, Voice);
        stage.Press(Pads, at: 0, dim: 10, frames: 480_000);
        stage.Run(250);
        (before - stage.Momentary(Viewers, Voice)).ShouldBe(10, 0.05);
    }

    [Fact]
    public void An_engine_in_which_a_pad_dims_all_else_allocates_nothing()
    {
        var stage = new Stage();
        stage.Press(Pads, at: 0, dim: 12, frames: 480_000);

        // All that comes now and then has come once: what is called first is made first, whichever test is the first to do so.
        stage.Run(400);
        Allocations.Of(400, _ => stage.Process(1)).ShouldBe(0);
    }

    private static SetSend Send(MixId mix, SourceId source, double gain) => new SetSend(mix, source, new Gain(gain));

    private static SetSend Dock(MixId mix, SourceId source) => new SetSend(mix, source, Heard: false);

    // A voice that gives one level for ever, pads through two sources, two listeners.
    private sealed class Stage
    {
        private readonly PadPlayer _player = new();
        private readonly MixEngine _engine;
        private readonly Dictionary<MixId, List<float>> _heard = new() { [Viewers] = [], [Guest] = [] };
        private readonly IInlet _voice = new SoundInlet(new SoundBuffer([.. Enumerable.Repeat(0.25f, 48_000)], null), loop: true, beginsWithSource: true);
        private readonly IInlet _tone = new SoundInlet(new SoundBuffer(Signals.Sine(400, 0.25, 48_000), null), loop: true, beginsWithSource: true);
        private readonly bool _isTone;
        private Rig _rig = Rig.Empty;
        private EnginePlan _plan;

        public Stage(params RigCommand[] commands)
            : this(isTone: false, commands)
        {
        }

        public Stage(bool isTone, params RigCommand[] commands)
        {
            _isTone = isTone;
            RigCommand[] all =
            [
                .. new[] { Viewers, Guest }.Select(m => new AddMix(new Mix { Id = m, Name = m.Value, Purpose = MixPurpose.Viewers })),
                new AddSource(new Source { Id = Voice, Name = "Voice", Kind = SourceKind.Microphone, Input = new SoundFileInput(new('0', 64), true) }),
                .. new[] { Pads, Stings }.Select(s => new AddSource(new Source { Id = s, Name = s.Value, Kind = SourceKind.Pads, Input = new PadsInput() })),
                .. from mix in new[] { Viewers, Guest } from source in new[] { Voice, Pads, Stings } select new SetSend(mix, source, Gain.Unity, Heard: true),
                .. commands,
            ];
            foreach (var command in all)
            {
                _rig = command.Apply(_rig).ShouldBeOfType<CommandResult.Applied>().Rig;
            }

            _plan = EnginePlan.Build(_rig, InletOf, null);
            _engine = new MixEngine(_plan);
        }

        private IInlet InletOf(Source source) => source.Input is PadsInput ? _player.Inlet(source.Id) : _isTone ? _tone : _voice;

        public void Do(RigCommand command)
        {
            _rig = command.Apply(_rig).ShouldBeOfType<CommandResult.Applied>().Rig;
            _plan = EnginePlan.Build(_rig, InletOf, _plan);
            _engine.Post(_plan);
        }

        public void Press(SourceId source, long at, double dim, int frames = 48_000)
        {
            var sound = new SoundBuffer([.. Enumerable.Repeat(0.25f, frames)], null);
            var pad = new Pad { Id = new(source.Value), Name = "x", Sound = new('0', 64), Source = source, End = 900_000, Dim = dim };
            _player.Post(new PadOrder.Press(at, ReadyPad.Of(pad, sound), sound, _player.Inlet(source)));
        }

        public void Process(int blocks)
        {
            for (var b = 0; b < blocks; b++)
            {
                _engine.ProcessBlock();
            }
        }

        public void Run(int blocks)
        {
            for (var b = 0; b < blocks; b++)
            {
                _engine.ProcessBlock();
                foreach (var (mix, heard) in _heard)
                {
                    heard.AddRange(_engine.Plan.Mixes.First(m => m.Id == mix).Block.Left);
                }
            }
        }

        public float[] Heard(MixId mix) => [.. _heard[mix]];

        public double Momentary(MixId mix, SourceId source) =>
            _engine.Plan.Sends[_engine.Plan.Mixes.ToList().FindIndex(m => m.Id == mix)][_engine.Plan.Sources.ToList().FindIndex(s => s.Id == source)].Momentary;
    }
}
