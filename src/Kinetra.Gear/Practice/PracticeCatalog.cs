using System.Collections.Immutable;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Gear.Practice;

/// <summary>The practice computer as it is when it is first used: its devices and programs, invented all of them.</summary>
public static class PracticeCatalog
{
    /// <summary>The interface on the desk.</summary>
    public static readonly DeviceId Interface = new("desk-interface");

    /// <summary>The headset.</summary>
    public static readonly DeviceId Headset = new("headset");

    /// <summary>The laptop's speakers, open in the room.</summary>
    public static readonly DeviceId Laptop = new("laptop-speakers");

    /// <summary>The game.</summary>
    public static readonly AppId Game = new("skerry-keeper");

    /// <summary>The call.</summary>
    public static readonly AppId Call = new("harbour-call");

    /// <summary>The crew's chat.</summary>
    public static readonly AppId Crew = new("crew-room");

    /// <summary>The music player.</summary>
    public static readonly AppId Music = new("record-shelf");

    /// <summary>The streaming encoder.</summary>
    public static readonly AppId Encoder = new("beacon-encoder");

    /// <summary>The recorder.</summary>
    public static readonly AppId Recorder = new("reel-recorder");

    /// <summary>The lesson.</summary>
    public static readonly AppId Lesson = new("lesson-room");

    private static readonly EndChoice Default = new DefaultEnd();
    private static readonly EndChoice CallsDefault = new DefaultEnd(Calls: true);

    /// <summary>All of it.</summary>
    public static GearState Initial() => new()
    {
        Devices = Devices(),
        Apps = Apps(),
        Defaults = [new DevicePoint(Headset, Side.Out), new DevicePoint(Interface, Side.In), new DevicePoint(Headset, Side.Out), new DevicePoint(Interface, Side.In)],
    };

    private static ImmutableArray<Device> Devices() =>
    [
        new Device
        {
            // It gives the engine its clock.
            Id = Interface,
            Name = "Desk interface",
            Kind = DeviceKind.Interface,
            Inputs =
            [
                new() { Name = "1", Plugged = Plugged.Dynamic, NeededGain = 46, Gain = 46, LowCut = false },
                new() { Name = "2", Plugged = Plugged.Condenser, NeededGain = 34, Gain = 34, LowCut = false },
                new() { Name = "3", Plugged = Plugged.Line, NeededGain = 6, Gain = 6 },
                new() { Name = "4", Plugged = Plugged.Line, NeededGain = 6, Gain = 6 },
                new() { Name = "Line 5", Plugged = Plugged.Line },
                new() { Name = "Line 6", Plugged = Plugged.Line },
                new() { Name = "Digital 7", IsExposed = false },
                new() { Name = "Digital 8", IsExposed = false },
            ],
            Outputs = 4,
            CanMonitor = true,
        },
        new Device
        {
            Id = new("pier-mic"),
            Name = "Pier USB mic",
            Kind = DeviceKind.Microphone,
            Inputs = [new() { Name = "Mic", Plugged = Plugged.Condenser, NeededGain = 30, Gain = 30, LowCut = false }],
            Rate = 44_100,
            PartsPerMillion = -42,
        },
        new Device
        {
            Id = Headset,
            Name = "Headset",
            Kind = DeviceKind.Headset,
            Inputs = [new() { Name = "Mic", Plugged = Plugged.HeadsetPlug, NeededGain = 20 }],
            Outputs = 2,
            PartsPerMillion = 23,
        },
        new Device { Id = Laptop, Name = "Laptop speakers", Kind = DeviceKind.Speakers, Outputs = 2, IsOpen = true, PartsPerMillion = 80 },
        new Device { Id = new("monitor-speakers"), Name = "Monitor speakers", Kind = DeviceKind.Speakers, Outputs = 2, IsOpen = true, IsPresent = false, PartsPerMillion = -15 },
        new Device
        {
            Id = new("capture-box"),
            Name = "Capture box",
            Kind = DeviceKind.Capture,
            Inputs = [new() { Name = "Left", Plugged = Plugged.Digital }, new() { Name = "Right", Plugged = Plugged.Digital }],
            PartsPerMillion = 110,
        },
    ];

    private static ImmutableArray<App> Apps() =>
    [
        new App
        {
            Id = Game,
            Name = "Skerry Keeper",
            Kind = AppKind.Game,
            Ports = [Out("game", "its game sound"), Out("radio", "its radio chatter", 1) with { Choice = CallsDefault }, In("voice", "your voice", 1) with { Choice = new NoEnd() }],
            IsRunning = true,
            IsPlaying = true,
            Where = "in the game’s sound settings",
        },
        new App { Id = Music, Name = "Record shelf", Kind = AppKind.Music, Ports = [Out("music", "its music")], IsRunning = true, IsPlaying = true, Where = "in the player’s output menu" },
        new App { Id = new("harbour-browser"), Name = "Harbour browser", Kind = AppKind.Player, Ports = [Out("sound", "its sound")], Where = "in the system’s sound panel" },
        new App
        {
            Id = Call,
            Name = "Harbour call",
            Kind = AppKind.Call,
            Ports = [Out("voice", "the guest", 1) with { Choice = CallsDefault }, In("mic", "him", 1) with { Choice = CallsDefault, Intake = Intake.Folded }],

            // What he is sent comes out of his speakers, and back through his microphone.
            Passes = [new Pass("mic", "voice", new Gain(-24), 8_400) { IsEcho = true }],
            IsRunning = true,
            IsPlaying = true,
            EvensVoices = true,
            Tests = false,
            Where = "in the call’s audio settings",
        },
        new App
        {
            Id = Crew,
            Name = "Crew room",
            Kind = AppKind.Chat,
            Ports = [Out("voices", "the crew", 1) with { Choice = CallsDefault }, In("mic", "them", 1) with { Choice = CallsDefault }],
            IsRunning = true,
            IsPlaying = true,
            EvensVoices = true,
            Where = "in the chat’s voice settings",
        },
        new App { Id = new("tin-sampler"), Name = "Tin sampler", Kind = AppKind.Player, Ports = [Out("sound", "its sound")], SeesNewAfterRestart = true, Where = "in the sampler’s audio setup" },
        new App
        {
            Id = Encoder,
            Name = "Beacon encoder",
            Kind = AppKind.Encoder,
            Ports = [In("main", "its first sound"), In("second", "its second sound") with { Choice = new NoEnd() }],
            IsRunning = true,
            SeesNewAfterRestart = true,
            Where = "in the encoder’s audio inputs",
        },
        new App
        {
            Id = Recorder,
            Name = "Reel recorder",
            Kind = AppKind.Recorder,
            Ports = [.. Enumerable.Range(1, 4).Select(t => In($"track-{t}", $"track {t}") with { Choice = new NoEnd(), Intake = Intake.Folded })],
            Where = "at the head of each track",
        },
        new App { Id = Lesson, Name = "Lesson room", Kind = AppKind.Listener, Ports = [In("sound", "its only input", 4)], Where = "in the lesson’s sound settings" },
        new App { Id = new("system-sounds"), Name = "System sounds", Kind = AppKind.Player, Ports = [Out("sound", "the computer’s own chimes", 1) with { IsFixed = true }], IsRunning = true },
    ];

    private static AppPort Out(string id, string name, int channels = 2) => new() { Id = id, Name = name, Side = Side.Out, Channels = channels, Choice = Default };

    private static AppPort In(string id, string name, int channels = 2) => new() { Id = id, Name = name, Side = Side.In, Channels = channels, Choice = Default };
}
