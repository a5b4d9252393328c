using System.Collections.Immutable;
using Kinetra.Core.Editing;
using Kinetra.Core.Findings;
using Kinetra.Core.Promises;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Air;

/// <summary>A mix that a stream takes is one that many hear.</summary>
public class StreamFindingTests
{
    private static readonly MixId Ears = new("ears");
    private static readonly AirServer Server = new(ServerKind.Put, "radio.example", 8_000);

    private static readonly Rig Plain = Demo.Rig("crew") with
    {
        Sources = [.. Demo.Rig("crew").Sources.Select(s => s with { Kind = SourceKind.Chat })],
        Mixes = [new Mix { Id = Ears, Name = "My ears", Purpose = MixPurpose.MyEars, Sends = [new Send { Source = new("crew") }] }],
    };

    private static readonly Rig Streamed = Plain with { Streams = [new(new("a"), "Evening", Ears, Server)] };

    [Fact]
    public void Private_talk_in_a_mix_that_a_stream_takes_reaches_the_audience_and_is_told_before_it_is_on_air()
    {
        Of(Plain).ShouldNotContain(f => f.Kind == FindingKind.Leak);
        Of(Streamed).Where(f => f.Kind == FindingKind.Leak).ShouldHaveSingleItem().Places.ShouldContain(new MixPoint(Ears));
        Offers.Of(Looked(Streamed)).OfType<NeverReaches>().ShouldBeEmpty();
        Offers.Of(Looked(Streamed with { Mixes = [Streamed.Mixes[0] with { Sends = [new Send { Source = new("crew"), Heard = false }] }] }))
            .OfType<NeverReaches>().ShouldHaveSingleItem().Listener.ShouldBe(new MixPoint(Ears));
    }

    [Fact]
    public void A_mix_that_a_stream_takes_goes_somewhere()
    {
        Of(Plain).ShouldContain(f => f.Kind == FindingKind.MixNowhere);
        Of(Streamed).ShouldNotContain(f => f.Kind == FindingKind.MixNowhere);
    }

    [Fact]
    public void What_should_be_on_air_and_is_not_is_told_by_its_name_with_why_and_one_of_another_show_is_not()
    {
        var found = Examination.Of(Looked(Streamed) with { Away = [new(new("a"), "Nobody answers."), new(new("other"), "No.")] }).Where(f => f.Kind == FindingKind.OffAir).ShouldHaveSingleItem();
        found.Sentence.ShouldBe("Evening should be on air and is not: Nobody answers.");
        found.Harm.ShouldBe(Harm.Serious);
        Of(Streamed).ShouldNotContain(f => f.Kind == FindingKind.OffAir);
    }

    [Fact]
    public void That_a_stream_stays_on_air_is_offered_kept_while_it_is_broken_while_it_should_be_and_not_known_before_anybody_starts_it()
    {
        var promise = Offers.Of(Looked(Streamed)).OfType<StaysOnAir>().ShouldHaveSingleItem();
        promise.Stream.ShouldBe(new("a"));
        Offers.Of(Looked(Streamed with { Promises = [promise] })).OfType<StaysOnAir>().ShouldBeEmpty();
        PromiseWords.Of(promise, Streamed, Streamed.NameOf).ShouldBe("Evening stays on air from its start to its end");
        ByRouting.Of(promise, Looked(Streamed)).State.ShouldBe(PromiseState.NotKnown);
        ByRouting.Of(promise, Looked(Streamed) with { OnAir = [new("a")] }).State.ShouldBe(PromiseState.Kept);
        ByRouting.Of(promise, Looked(Streamed) with { OnAir = [new("b")], Away = [new(new("c"), "No.")] }).State.ShouldBe(PromiseState.NotKnown);
        var broken = ByRouting.Of(promise, Looked(Streamed) with { Away = [new(new("a"), "Nobody answers.")] });
        (broken.State, broken.Why, broken.Places.Single()).ShouldBe((PromiseState.Broken, "It is not on air: Nobody answers.", new MixPoint(Ears)));
    }

    private static Situation Looked(Rig rig) => new(Routed.Of(rig, Computer.Unknown), []);

    private static ImmutableArray<Finding> Of(Rig rig) => Examination.Of(Looked(rig));
}
