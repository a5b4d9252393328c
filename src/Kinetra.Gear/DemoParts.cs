using System.Collections.Immutable;
using Kinetra.Core.Planning;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Gear.Practice;

namespace Kinetra.Gear;

/// <summary>What the demo shows are made of. Everything in them has an identity that stays, so that a show that is made again is the same.</summary>
static class DemoParts
{
    /// <summary>The cable that the call hears; of that id in both shows, so that the call stays set to it when the other is opened.</summary>
    public static readonly CableId ToGuest = new("to-guest");

    /// <summary>The cable that the encoder hears.</summary>
    public static readonly CableId ToEncoder = new("to-encoder");

    public static Source Source(string id, string name, SourceKind kind, int look, SourceInput input, string? preset = null) =>
        new() { Id = new(id), Name = name, Kind = kind, Input = input, Look = new(look, look), Chain = preset is null ? [] : Chain(id, preset) };

    /// <summary>A chain as it ships.</summary>
    public static ImmutableArray<Processor> Chain(string id, string preset) =>
        [.. ChainPresets.Find(preset)!.Make().Select((p, i) => p with { Id = new($"{id}-{i + 1}") })];

    /// <summary>A listener's mix: each source where it would be proposed, as loud as it is said here, and below whoever talks by so much.</summary>
    public static Mix Mix(string id, string name, MixPurpose purpose, double target, ImmutableArray<Source> sources, DemoSend[] sends, ImmutableArray<Point> voices, bool isSafe = false) => new()
    {
        Id = new(id),
        Name = name,
        Purpose = purpose,
        TargetLufs = target,
        Chain = isSafe ? Chain(id, "mixSafety") : [],
        Sends =
        [
            .. sources.Select(s =>
            {
                var send = sends.FirstOrDefault(w => w.Source == s.Id.Value);
                var proposed = ProposedPlace.Of(s.Kind, purpose, s.Id);
                return proposed with
                {
                    Gain = new Gain(send?.Gain ?? 0),
                    Heard = send?.Heard ?? proposed.Heard,
                    Ducker = send is { Duck: > 0 } ? Processor.Of(Ducker.Type, ("depth", send.Duck)) with { Id = new($"{id}-{s.Id.Value}-duck"), Keys = voices } : null,
                };
            }),
        ],
    };

    /// <summary>A cable that one mix plays into.</summary>
    public static Cable Cable(CableId id, string name, string mix) =>
        new() { Id = id, Name = name, Feeds = [new CableFeed { From = new MixPoint(new(mix)) }] };

    /// <summary>A mix that goes to the headset.</summary>
    public static Mix OnTheHeadset(Mix mix) =>
        mix with { Destinations = [new Destination { Id = new("headset"), End = new DeviceOutput(PracticeCatalog.Headset) }] };

    /// <summary>Promises with identities that stay.</summary>
    public static ImmutableArray<Promise> Promises(params ReadOnlySpan<Promise> promises)
    {
        var all = ImmutableArray.CreateBuilder<Promise>(promises.Length);
        foreach (var promise in promises)
        {
            all.Add(promise with { Id = new($"promise-{all.Count + 1}") });
        }

        return all.MoveToImmutable();
    }

    /// <summary>The defaults as the maker has them.</summary>
    public static ImmutableArray<RoleWish> Defaults =>
    [
        new(Role.Playback, new DevicePoint(PracticeCatalog.Headset, Side.Out)),
        new(Role.Recording, new DevicePoint(PracticeCatalog.Interface, Side.In)),
        new(Role.CallsPlayback, new DevicePoint(PracticeCatalog.Headset, Side.Out)),
        new(Role.CallsRecording, new DevicePoint(PracticeCatalog.Interface, Side.In)),
    ];
}

/// <summary>A source in a listener's mix.</summary>
/// <param name="Source">Its id.</param>
/// <param name="Gain">Its level there, dB.</param>
/// <param name="Duck">By how many dB it makes room for voices; 0: it does not.</param>
/// <param name="Heard">Whether it is heard; null: as it would be proposed.</param>
sealed record DemoSend(string Source, double Gain, double Duck = 0, bool? Heard = null);
