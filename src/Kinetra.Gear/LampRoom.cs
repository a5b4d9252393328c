using System.Collections.Immutable;
using Kinetra.Core.Planning;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Gear.Practice;

namespace Kinetra.Gear;

/// <summary>The demo show: <em>The Lamp Room</em>, a weekly live hour from a disused lighthouse.</summary>
public static class LampRoom
{
    /// <summary>The show's name.</summary>
    public const string Name = "The Lamp Room";

    /// <summary>The show as it is first opened.</summary>
    public static Rig Rig()
    {
        ImmutableArray<Source> sources =
        [
            Source("host-mic", "Host mic", SourceKind.Microphone, 0, new DeviceInput(PracticeCatalog.Interface, 0)),
            Source("sea-mic", "Sea mic", SourceKind.Microphone, 1, new DeviceInput(PracticeCatalog.Interface, 2)),
            Source("guest-call", "Guest call", SourceKind.Call, 2, new AppInput(PracticeCatalog.Call, "voice")),
            Source("crew-talk", "Crew talk", SourceKind.Chat, 3, new AppInput(PracticeCatalog.Crew, "voices")),
            Source("skerry-keeper", "Skerry Keeper", SourceKind.Game, 4, new AppInput(PracticeCatalog.Game)),
            Source("record-shelf", "Record shelf", SourceKind.Music, 5, new AppInput(PracticeCatalog.Music)),
        ];
        return new Rig
        {
            Sources = sources,
            Mixes =
            [
                Mix("my-ears", "My ears", MixPurpose.MyEars, -20, sources, ("sea-mic", 2), ("guest-call", 2), ("skerry-keeper", -1), ("record-shelf", -10)),
                Mix("viewers", "Viewers", MixPurpose.Viewers, -18, sources, ("host-mic", 3), ("sea-mic", 1), ("guest-call", 5), ("skerry-keeper", -6), ("record-shelf", -13)),
                Mix("guest-hears", "Guest hears", MixPurpose.Guest, -20, sources, ("host-mic", 3), ("skerry-keeper", -11), ("record-shelf", -16)),
            ],
        };
    }

    private static Source Source(string id, string name, SourceKind kind, int look, SourceInput input) =>
        new() { Id = new(id), Name = name, Kind = kind, Input = input, Look = new(look, look) };

    private static Mix Mix(
        string id, string name, MixPurpose purpose, double target, ImmutableArray<Source> sources, params (string Source, double Gain)[] gains) => new()
        {
            Id = new(id),
            Name = name,
            Purpose = purpose,
            TargetLufs = target,
            Sends =
            [
                .. sources.Select(s => Place(s, purpose) with
                {
                    Gain = new Gain(gains.FirstOrDefault(g => g.Source == s.Id.Value).Gain),
                }),
            ],
        };

    // The sea is a microphone, but not a voice: the maker wants to hear it, the caller does not need it.
    private static Send Place(Source source, MixPurpose purpose) => source.Id.Value == "sea-mic"
        ? new Send { Source = source.Id, Heard = purpose != MixPurpose.Guest }
        : ProposedPlace.Of(source.Kind, purpose, source.Id);
}
