using System.Collections.Immutable;
using Kinetra.Core.Planning;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Gear.Practice;

namespace Kinetra.Gear;

/// <summary>
/// The second demo show: <em>Tide Tables</em>, an audio-only podcast with two microphones and a caller. Each has a chain; the caller is sent his
/// mix through a cable; a recorder gets the whole on one track and the caller on another.
/// </summary>
public static class TideTables
{
    /// <summary>The show's name.</summary>
    public const string Name = "Tide Tables";

    private static readonly CableId ToRecorder = new("to-recorder");

    /// <summary>The show as it is first opened.</summary>
    public static Rig Rig()
    {
        ImmutableArray<Source> sources =
        [
            DemoParts.Source("host-mic", "Host mic", SourceKind.Microphone, 0, new DeviceInput(PracticeCatalog.Interface, 0), "voiceNatural"),
            DemoParts.Source("second-mic", "Second mic", SourceKind.Microphone, 6, new DeviceInput(PracticeCatalog.Interface, 1), "voiceNatural"),
            DemoParts.Source("guest-call", "Caller", SourceKind.Call, 2, new AppInput(PracticeCatalog.Call, "voice"), "caller"),
        ];
        return new Rig
        {
            Sources = sources,
            Mixes =
            [
                DemoParts.OnTheHeadset(DemoParts.Mix("my-ears", "My ears", MixPurpose.MyEars, NewShow.Target(MixPurpose.MyEars), sources, [new("second-mic", 4, Heard: true), new("guest-call", 7)], [])),
                DemoParts.Mix("guest-hears", "Caller hears", MixPurpose.Guest, NewShow.Target(MixPurpose.Guest), sources, [new("host-mic", 4), new("second-mic", 4)], []),
                DemoParts.Mix("recording", "Recording", MixPurpose.Recording, NewShow.Target(MixPurpose.Recording), sources, [new("host-mic", 4), new("second-mic", 4), new("guest-call", 7)], [], isSafe: true),
            ],
            Cables =
            [
                DemoParts.Cable(DemoParts.ToGuest, "Caller line", "guest-hears"),

                // The whole on the first pair, the caller by himself on the second.
                DemoParts.Cable(ToRecorder, "Recorder line", "recording") with
                {
                    Channels = 4,
                    Feeds =
                    [
                        new CableFeed { From = new MixPoint(new("recording")) },
                        new CableFeed { From = new SourcePoint(new("guest-call")), Into = new(2, 3) },
                    ],
                },
            ],
            Wishes = Wishes.None with
            {
                Roles = DemoParts.Defaults,
                Ports =
                [
                    new(PracticeCatalog.Call, "mic", new ChosenEnd(new CablePoint(DemoParts.ToGuest))),
                    new(PracticeCatalog.Recorder, "track-1", new ChosenEnd(new CablePoint(ToRecorder), new(0, 1))),
                    new(PracticeCatalog.Recorder, "track-2", new ChosenEnd(new CablePoint(ToRecorder), new(2, 3))),
                ],
            },
            Promises = DemoParts.Promises(
                new NeverHearsHimself(default, new("guest-call")),
                new Reaches(default, new("guest-call"), new MixPoint(new("recording"))),
                new HeardOnce(default, new MixPoint(new("recording"))),
                new OwnTrack(default, new("host-mic")),
                new OwnTrack(default, new("second-mic")),
                new OwnTrack(default, new("guest-call"))),
        };
    }
}
