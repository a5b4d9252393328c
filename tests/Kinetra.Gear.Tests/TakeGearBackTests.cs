using Kinetra.Core.Editing;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Gear.Practice;

namespace Kinetra.Gear.Tests;

public class TakeGearBackTests
{
    private static readonly CablesNow NoCables = CablesNow.Of(new Rig());

    private static readonly DeviceId PierMic = new("pier-mic");

    // Each changes something else.
    private static readonly GearChange[] Changes =
    [
        new SetDevice(PracticeCatalog.Headset, IsPresent: false),
        new SetDevice(PracticeCatalog.Interface, BufferFrames: 64, IsMonitoring: true),
        new SetDeviceInput(PracticeCatalog.Interface, 0, Gain: 12, LowCut: true, IsExposed: false),
        new SetPort(PracticeCatalog.Call, "mic", new NoEnd()),
        new SetApp(PracticeCatalog.Game, IsRunning: false),
        new SetApp(PracticeCatalog.Call, Volume: new Gain(-12), EvensVoices: false),
        new SetDefault(Role.CallsRecording, new DevicePoint(PierMic, Side.In)),
        new JoinDevices(new("joined"), "Both", [PracticeCatalog.Laptop, new("capture-box")]),
    ];

    [Fact]
    public void What_is_taken_back_is_as_it_was_and_what_else_was_done_since_stays()
    {
        var start = PracticeCatalog.Initial();
        foreach (var change in Changes)
        {
            var (changed, sentence) = Do(change, start);
            sentence.ShouldNotBeEmpty(change.ToString());
            var (back, words) = Do(new TakeGearBack(start, changed, sentence), changed);
            words.ShouldBe($"Taken back: {sentence}");
            Picture(back).ShouldBe(Picture(start), change.ToString());

            // And that can be taken back, too.
            var (again, saying) = Do(new TakeGearBack(changed, back, words), back);
            Picture(again).ShouldBe(Picture(changed), change.ToString());
            saying.ShouldBe($"Done again: {sentence}");
            Do(new TakeGearBack(back, again, saying), again).Sentence.ShouldBe(words);

            foreach (var other in Changes.Where(c => c != change))
            {
                var both = Do(other, changed).State;
                Picture(Do(new TakeGearBack(start, changed, sentence), both).State).ShouldBe(Picture(Do(other, start).State), $"{change}, then {other}");
            }
        }
    }

    [Fact]
    public void What_was_changed_again_since_stays_and_what_cannot_be_so_any_more_is_refused_in_words()
    {
        var start = PracticeCatalog.Initial();
        var (set, sentence) = Do(new SetApp(PracticeCatalog.Call, Volume: new Gain(-12)), start);
        var again = Do(new SetApp(PracticeCatalog.Call, Volume: new Gain(-6)), set).State;
        var refused = (GearOutcome.Refused)new TakeGearBack(start, set, sentence).Apply(again, NoCables, default);
        (refused.Problem.What, refused.Problem.Allowed).ShouldBe(("What it did has been changed again since.", "a change that still stands"));

        var pier = Do(new SetPort(PracticeCatalog.Call, "mic", new ChosenEnd(new DevicePoint(PierMic, Side.In))), start).State;
        var (nothing, words) = Do(new SetPort(PracticeCatalog.Call, "mic", new NoEnd()), pier);
        var unplugged = Do(new SetDevice(PierMic, IsPresent: false), nothing).State;
        ((GearOutcome.Refused)new TakeGearBack(pier, nothing, words).Apply(unplugged, NoCables, default)).Problem.What.ShouldContain("unplugged");
    }

    private static (GearState State, string Sentence) Do(GearChange change, GearState gear) =>
        change.Apply(gear, NoCables, default) is GearOutcome.Done done ? (done.State, done.Sentence) : throw new InvalidOperationException($"{change}: {((GearOutcome.Refused)change.Apply(gear, NoCables, default)).Problem}");

    private static string Picture(GearState gear) => string.Join(
        "\n",
        [
            .. gear.Defaults.Select((d, i) => $"{(Role)i} {d}"),
            .. gear.Devices.Select(d => $"{d.Id} {d.IsPresent} {d.BusyWith} {d.Rate} {d.BufferFrames} {d.IsMonitoring} {string.Join(',', d.Inputs.Select(i => $"{i.Gain} {i.LowCut} {i.IsExposed}"))}"),
            .. gear.Apps.Select(a => $"{a.Id} {a.IsRunning} {a.IsPlaying} {a.Volume} {a.EvensVoices} {a.Tests} {string.Join(',', a.Ports.Select(p => p.Choice))}"),
        ]);
}
