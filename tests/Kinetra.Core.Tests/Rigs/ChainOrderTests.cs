using System.Collections.Immutable;
using Kinetra.Core.Planning;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;

namespace Kinetra.Core.Tests.Rigs;

/// <summary>Kinetra says where a chain's order works against itself, and only there.</summary>
public class ChainOrderTests
{
    [Fact]
    public void No_preset_that_ships_works_against_itself()
    {
        foreach (var preset in ChainPresets.All)
        {
            ChainOrder.Notes(preset.Make()).ShouldBeEmpty(preset.Key);
        }
    }

    [Fact]
    public void A_gate_after_a_compressor_hears_a_louder_room_and_before_it_does_not()
    {
        var (gate, compressor) = (Processor.Of(Gate.Type), Processor.Of(Compressor.Type));
        var note = ChainOrder.Notes([compressor, gate]).ShouldHaveSingleItem();
        note.Processor.ShouldBe(gate.Id);
        note.Other.ShouldBe(compressor.Id);
        note.Words.ShouldStartWith("The gate after the compressor hears a louder room");
        ChainOrder.Notes([gate, compressor]).ShouldBeEmpty();
    }

    [Fact]
    public void What_is_bypassed_or_does_nothing_is_not_in_the_way()
    {
        var (gate, compressor) = (Processor.Of(Gate.Type), Processor.Of(Compressor.Type));
        ChainOrder.Notes([compressor with { Bypassed = true }, gate]).ShouldBeEmpty();
        ChainOrder.Notes([compressor, gate with { Bypassed = true }]).ShouldBeEmpty();
        ChainOrder.Notes([Processor.Of(Compressor.Type, ("ratio", 1)), gate]).ShouldBeEmpty();
        ChainOrder.Notes([Processor.Of(Compressor.Type, ("blend", 0)), gate]).ShouldBeEmpty();
    }

    public static TheoryData<string, string, double, string, string> Against => new()
    {
        { "limiter", "equaliser", 3, "gain3", "peaks can go beyond the ceiling" },
        { "limiter", "utility", 2, "gain", "peaks can go beyond the ceiling" },
        { "limiter", "compressor", 4, "makeUp", "beyond the limiter's ceiling" },
        { "deEsser", "equaliser", 9, "gain4", "raises sharp sounds again" },
        { "compressor", "utility", 1, "hum", "hum is taken away after the compressor" },
        { "gate", "utility", 2, "hum", "hum is taken away after the gate" },
    };

    [Theory]
    [MemberData(nameof(Against))]
    public void What_stands_later_and_undoes_what_stood_before_is_told_only_while_it_does(string earlier, string later, double value, string key, string words)
    {
        var first = Processor.Of(ProcessorTypes.Find(earlier)!);
        var type = ProcessorTypes.Find(later)!;
        ChainOrder.Notes([first, Processor.Of(type, (key, value))]).ShouldHaveSingleItem().Words.ShouldContain(words);
        ChainOrder.Notes([first, Processor.Of(type)]).ShouldBeEmpty();
        ChainOrder.Notes([Processor.Of(type, (key, value)), first]).Where(n => n.Words.Contains(words, StringComparison.Ordinal)).ShouldBeEmpty();
    }

    [Fact]
    public void A_ducker_that_listens_to_nothing_is_told()
    {
        var ducker = Processor.Of(Ducker.Type);
        ChainOrder.Notes([ducker]).ShouldHaveSingleItem().Words.ShouldBe("The ducker listens to nothing, and so never does anything.");
        ChainOrder.Notes([ducker with { Keys = [new Kinetra.Core.Signal.SourcePoint(new("voice"))] }]).ShouldBeEmpty();
    }

    [Fact]
    public void In_the_order_in_which_processors_are_offered_nothing_works_against_itself()
    {
        // Hum is taken away first, and a ducker has somebody to listen to.
        ImmutableArray<Processor> chain =
        [
            Processor.Of(Utility.Type, ("hum", 1)),
            .. ProcessorTypes.All.Where(t => t != Ducker.Type && t != Utility.Type && t != Room.Type).Select(t => Processor.Of(t, t == Limiter.Type ? [("drive", 6)] : [])),
        ];
        ChainOrder.Notes(chain).ShouldBeEmpty();
    }
}
