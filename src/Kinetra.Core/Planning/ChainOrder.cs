using System.Collections.Immutable;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Planning;

/// <summary>Two processors of a chain that work against each other where they stand.</summary>
/// <param name="Processor">The one that could move.</param>
/// <param name="Other">The one that it should stand on the other side of; null: it is about itself alone.</param>
/// <param name="Words">What is so, in a sentence.</param>
public sealed record OrderNote(ProcessorId Processor, ProcessorId? Other, string Words);

/// <summary>
/// Says where the order of a chain works against itself. The order is free: nothing is refused, and each note says what is heard of it. What is bypassed
/// does nothing, and so is not in the way.
/// </summary>
public static class ChainOrder
{
    // Who should not stand after whom, and what is heard where it does.
    private static readonly ImmutableArray<Rule> Rules =
    [
        new(Gate.Type, Compressor.Type, Lifts, "The gate after the compressor hears a louder room: quiet and loud are closer together there, and it opens less surely."),
        new(Gate.Type, Limiter.Type, Drives, "The gate after the limiter hears a louder room: quiet and loud are closer together there."),
        new(Gate.Type, Room.Type, Always, "The gate after the room cuts its tail off."),
        new(Cuts.LowCut, Gate.Type, Always, "The low cut after the gate: rumble that nobody will hear opens the gate all the same."),
        new(Cuts.LowCut, Compressor.Type, Always, "The low cut after the compressor: rumble and plosives that nobody will hear press the voice down all the same."),
        new(Equaliser.Type, DeEsser.Type, Always, "The equaliser after the de-esser raises sharp sounds again that were tamed.", When: RaisesSibilance),
        new(Utility.Type, Compressor.Type, Always, "The hum is taken away after the compressor, which has lifted it in every pause.", When: p => Value(p, "hum") > 0),
        new(Utility.Type, Gate.Type, Always, "The hum is taken away after the gate, which heard it and may have stayed open.", When: p => Value(p, "hum") > 0),
        new(Compressor.Type, Limiter.Type, Always, "The compressor after the limiter: what it makes up for can go beyond the limiter's ceiling.", When: p => Value(p, "makeUp") > 0),
        new(Equaliser.Type, Limiter.Type, Always, "The equaliser after the limiter raises something: peaks can go beyond the ceiling again.", When: Raises),
        new(Exciter.Type, Limiter.Type, Always, "The exciter after the limiter adds to the sound: peaks can go beyond the ceiling again."),
        new(Utility.Type, Limiter.Type, Always, "The gain after the limiter: peaks can go beyond the ceiling again.", When: p => Value(p, "gain") > 0),
        new(Room.Type, Limiter.Type, Always, "The room after the limiter adds to the sound: peaks can go beyond the ceiling again."),
    ];

    /// <summary>What a chain's order does against itself, in the chain's order; of each pair one note.</summary>
    public static ImmutableArray<OrderNote> Notes(ImmutableArray<Processor> chain)
    {
        var notes = ImmutableArray.CreateBuilder<OrderNote>();
        for (var later = 0; later < chain.Length; later++)
        {
            if (chain[later].Bypassed)
            {
                continue;
            }

            if (ProcessorTypes.Find(chain[later].Type) is { KeyUse: KeyUse.Needed } && chain[later].Keys.IsEmpty)
            {
                notes.Add(new(chain[later].Id, null, $"The {Name(chain[later])} listens to nothing, and so never does anything."));
            }

            for (var earlier = 0; earlier < later; earlier++)
            {
                if (!chain[earlier].Bypassed && Between(chain[earlier], chain[later]) is { } note)
                {
                    notes.Add(note);
                }
            }
        }

        return notes.ToImmutable();
    }

    private static OrderNote? Between(Processor earlier, Processor later)
    {
        foreach (var rule in Rules)
        {
            if (later.Type == rule.Later.Key && earlier.Type == rule.Earlier.Key && rule.Does(earlier) && rule.When?.Invoke(later) != false)
            {
                return new(later.Id, earlier.Id, rule.Words);
            }
        }

        return null;
    }

    private static string Name(Processor processor) => ProcessorTypes.Find(processor.Type)!.Name.ToLowerInvariant();

    private static bool Always(Processor processor) => true;

    // What leaves the room's noise where it was, lifts nothing.
    private static bool Lifts(Processor compressor) => Value(compressor, "ratio") > 1 && Value(compressor, "blend") > 0;

    private static bool Drives(Processor limiter) => Value(limiter, "drive") > 0;

    private static bool Raises(Processor equaliser) =>
        Equaliser.Type.Curve(equaliser.ValuesOf(Equaliser.Type)).Response!.Decibels.Max() > 0.1;

    // By 3 dB somewhere from 5 to 10 kHz.
    private static bool RaisesSibilance(Processor equaliser)
    {
        var curve = Equaliser.Type.Curve(equaliser.ValuesOf(Equaliser.Type)).Response!;
        return curve.Frequencies.Zip(curve.Decibels).Any(p => p is { First: >= 5_000 and <= 10_000, Second: > 3 });
    }

    private static double Value(Processor processor, string key) =>
        processor.Values.TryGetValue(key, out var value) ? value : ProcessorTypes.Find(processor.Type)!.Parameters.First(p => p.Key == key).Default;

    // Of two that both are at work, what is heard where the one stands later; only where the earlier does something, and the later too.
    private sealed record Rule(
        ProcessorType Later, ProcessorType Earlier, Func<Processor, bool> Does, string Words, Func<Processor, bool>? When = null);
}
