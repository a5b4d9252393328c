using Kinetra.Core.Engine;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Routing;

public class SoundDoubleTests
{
    [Theory]
    [InlineData(240, -6, 5, 100, false)]
    [InlineData(480, -12, 10, 50, false)]
    [InlineData(1_920, -3, 40, 12.5, true)]
    public void A_second_way_over_a_cable_does_to_the_sound_what_is_said_of_it(int buffer, double gain, double delay, double notch, bool isEcho)
    {
        var rig = Twice(buffer, gain);
        var found = DoublesOf(rig).ShouldHaveSingleItem();
        found.DelayMilliseconds.ShouldBe(delay, 1e-9);
        found.LevelDecibels.ShouldBe(gain, 1e-9);
        found.NotchHertz!.Value.ShouldBe(notch, 1e-9);
        found.IsEcho.ShouldBe(isEcho);

        // Heard: at the notch what is left, at twice the frequency what both have in common.
        var alone = Level(Twice(buffer, double.NegativeInfinity), notch * 2);
        (Level(rig, notch) - alone).ShouldBe(found.NotchDecibels, 0.05);
        (Level(rig, notch * 2) - alone).ShouldBe(found.CoherentDecibels, 0.05);
    }

    [Fact]
    public void One_way_is_no_double_and_two_at_the_same_time_have_no_notch()
    {
        DoublesOf(Twice(0, double.NegativeInfinity)).ShouldBeEmpty();
        var same = DoublesOf(Twice(0, 0)).Single();
        same.NotchHertz.ShouldBeNull();
        same.CoherentDecibels.ShouldBe(Signals.Db(2), 1e-9);
    }

    private static IEnumerable<SoundDouble> DoublesOf(Rig rig) => Spread.Of(Routed.Of(rig, Mono)).Meetings
        .Where(m => m.At == new MixPoint(Demo.Viewers, Tap.Raw)).SelectMany(m => m.Ways.Skip(1).Select(w => new SoundDouble(m.Ways[0], w)));

    private static Computer Mono => Computer.Unknown with { Channels = new Dictionary<SourceId, int> { [new("voice")] = 1 } };

    // A voice straight, and once more by a cable that is late.
    private static Rig Twice(int buffer, double gain) => new()
    {
        Sources =
        [
            new Source { Id = new("voice"), Name = "Voice", Kind = SourceKind.Microphone, Input = Demo.Given("voice") },
            new Source { Id = new("again"), Name = "Again", Kind = SourceKind.App, Input = new CableInput(new("wire"), 0) },
        ],
        Mixes =
        [
            new Mix
            {
                Id = Demo.Viewers,
                Name = "Viewers",
                Purpose = MixPurpose.Viewers,
                Sends = [new Send { Source = new("voice") }, new Send { Source = new("again"), Gain = new(gain) }],
            },
        ],
        Cables = [new Cable { Id = new("wire"), Name = "Wire", Channels = 1, BufferFrames = buffer, Feeds = [new CableFeed { From = new SourcePoint(new("voice")), Into = new() }] }],
    };

    // RMS of a sine of that frequency in the mix, once it is steady.
    private static double Level(Rig rig, double hertz)
    {
        var sine = Signals.Sine(hertz, 0.1, AudioFormat.SampleRate);
        var engine = new MixEngine(EnginePlan.Build(rig, _ => new ArrayInlet(sine), null));
        var tap = engine.Hold(new MixPoint(Demo.Viewers));
        for (var block = 0; block < 150; block++)
        {
            engine.ProcessBlock();
        }

        var (left, right, position) = (new float[19_200], new float[19_200], 9_600L);
        tap.Ring.Read(ref position, left, right, out _).ShouldBe(19_200);
        return 10 * Math.Log10(left.Average(x => (double)x * x));
    }
}
