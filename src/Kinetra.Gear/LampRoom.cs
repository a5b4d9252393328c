using System.Collections.Immutable;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Gear.Practice;

namespace Kinetra.Gear;

/// <summary>
/// The demo show: <em>The Lamp Room</em>, a weekly live hour from a disused lighthouse. Two people and the sea on the interface, a guest who is
/// sent his mix through a cable, the crew's private talk, a game with its radio, a bed of music that makes room for voices, and an encoder that gets
/// what viewers hear.
/// </summary>
public static class LampRoom
{
    /// <summary>The show's name.</summary>
    public const string Name = "The Lamp Room";

    private static readonly SourceId Host = new("host-mic"), Guest = new("guest-call"), Crew = new("crew-talk");
    private static readonly MixPoint Viewers = new(new("viewers"));

    /// <summary>The show as it is first opened.</summary>
    public static Rig Rig()
    {
        ImmutableArray<Source> sources =
        [
            DemoParts.Source("host-mic", "Host mic", SourceKind.Microphone, 0, new DeviceInput(PracticeCatalog.Interface, 0), "voiceNatural"),
            DemoParts.Source("second-mic", "Co-host mic", SourceKind.Microphone, 6, new DeviceInput(PracticeCatalog.Interface, 1), "voiceNatural"),
            DemoParts.Source("sea-mic", "Sea mic", SourceKind.Microphone, 1, new DeviceInput(PracticeCatalog.Interface, 2)),
            DemoParts.Source("guest-call", "Guest call", SourceKind.Call, 2, new AppInput(PracticeCatalog.Call, "voice"), "caller"),
            DemoParts.Source("crew-talk", "Crew talk", SourceKind.Chat, 3, new AppInput(PracticeCatalog.Crew, "voices")),
            DemoParts.Source("skerry-keeper", "Skerry Keeper", SourceKind.Game, 4, new AppInput(PracticeCatalog.Game, "game")),
            DemoParts.Source("skerry-radio", "Keeper’s radio", SourceKind.Game, 7, new AppInput(PracticeCatalog.Game, "radio")),
            DemoParts.Source("record-shelf", "Record shelf", SourceKind.Music, 5, new AppInput(PracticeCatalog.Music, "music"), "musicBed"),
            DemoParts.Source("pads", "Pads", SourceKind.Pads, 9, new PadsInput()),
            DemoParts.Source("computer", "Computer", SourceKind.CatchAll, 8, new EverythingElseInput(StillPlays: false)),
        ];
        ImmutableArray<Point> voices = [new SourcePoint(new("host-mic")), new SourcePoint(new("second-mic")), new SourcePoint(new("guest-call"))];
        return new Rig
        {
            Sources = sources,
            Mixes =
            [
                // The sea is a microphone, but not a voice: the maker wants to hear it, the caller does not need it.
                DemoParts.OnTheHeadset(DemoParts.Mix(
                    "my-ears", "My ears", MixPurpose.MyEars, -20, sources,
                    [new("second-mic", 3, Heard: true), new("sea-mic", 2, Heard: true), new("guest-call", 4), new("skerry-keeper", 0), new("skerry-radio", -4), new("record-shelf", -9), new("pads", -4), new("computer", -8)],
                    voices)),
                DemoParts.Mix(
                    "viewers", "Viewers", MixPurpose.Viewers, -18, sources,
                    [new("host-mic", 4), new("second-mic", 5), new("sea-mic", 1), new("guest-call", 7), new("skerry-keeper", -4, 6), new("skerry-radio", -8, 6), new("record-shelf", -9, 9), new("pads", 0)],
                    voices,
                    isSafe: true),
                DemoParts.Mix(
                    "guest-hears", "Guest hears", MixPurpose.Guest, -20, sources,
                    [new("host-mic", 4), new("second-mic", 5), new("sea-mic", 0, Heard: false), new("skerry-keeper", -9, 9), new("skerry-radio", -12, Heard: false), new("record-shelf", -12, 9), new("pads", -3)],
                    [.. voices[..2]]),
                DemoParts.Mix(
                    "recording", "Recording", MixPurpose.Recording, -18, sources,
                    [new("host-mic", 4), new("second-mic", 5), new("sea-mic", 1), new("guest-call", 7), new("skerry-keeper", -4), new("skerry-radio", -8), new("record-shelf", -13), new("pads", 0)],
                    voices,
                    isSafe: true),
            ],
            Cables = [DemoParts.Cable(DemoParts.ToGuest, "Guest line", "guest-hears"), DemoParts.Cable(DemoParts.ToEncoder, "Air line", "viewers")],
            PadSets = [DemoPads.Set(new("pads"))],
            Wishes = Wishes.None with
            {
                Roles = DemoParts.Defaults,
                Ports =
                [
                    new(PracticeCatalog.Call, "mic", new ChosenEnd(new CablePoint(DemoParts.ToGuest))),
                    new(PracticeCatalog.Encoder, "main", new ChosenEnd(new CablePoint(DemoParts.ToEncoder))),
                ],
            },
            Promises = DemoParts.Promises(
                new NeverReaches(default, Crew, Viewers),
                new NeverReaches(default, Crew, new AppPoint(PracticeCatalog.Encoder, "main")),
                new NeverHearsHimself(default, Guest),
                new Reaches(default, Host, Viewers),
                new Reaches(default, Guest, Viewers),
                new Reaches(default, Host, new AppPoint(PracticeCatalog.Call, "mic")),
                new HeardOnce(default, Viewers),
                new SpeechOverBed(default, Viewers.Id, 4),
                new LoudnessInRange(default, Viewers.Id, -22, -14),
                new TruePeakUnder(default, Viewers.Id, -0.9),
                new OwnTrack(default, Host),
                new OwnTrack(default, Guest),
                new DefaultStays(default, Role.Playback, new DevicePoint(PracticeCatalog.Headset, Side.Out))),
        };
    }
}
