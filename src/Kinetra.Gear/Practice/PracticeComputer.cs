using System.Collections.Concurrent;
using Kinetra.Core.Clocks;
using Kinetra.Core.Engine;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Gear.Practice;

/// <summary>
/// The practice computer: simulated devices and programs that ship with the application and behave like real ones. It gives the engine what they
/// do, sample by sample, as they are set. Any thread.
/// </summary>
/// <param name="sounds">What sounds.</param>
public sealed class PracticeComputer(StandIns sounds) : ISoundProvider, ISongTeller
{
    // What sounds before which inputs.
    private static readonly Dictionary<(string Device, int Input), (string Sound, int Side)> Before = new()
    {
        [("desk-interface", 0)] = ("host-mic", 0),
        [("desk-interface", 1)] = ("second-mic", 0),
        [("desk-interface", 2)] = ("sea-mic", 0),
        [("desk-interface", 3)] = ("sea-mic", 1),
        [("desk-interface", 4)] = ("second-computer", 0),
        [("desk-interface", 5)] = ("second-computer", 1),
        [("pier-mic", 0)] = ("host-mic", 0),
        [("headset", 0)] = ("host-mic", 0),
        [("capture-box", 0)] = ("console", 0),
        [("capture-box", 1)] = ("console", 1),
    };

    private static readonly Dictionary<(string App, string Port), string> Plays = new()
    {
        [("skerry-keeper", "game")] = "skerry-keeper",
        [("skerry-keeper", "radio")] = "radio",
        [("record-shelf", "music")] = "record-shelf",
        [("harbour-browser", "sound")] = "harbour-browser",
        [("harbour-call", "voice")] = "guest-call",
        [("crew-room", "voices")] = "crew-talk",
        [("tin-sampler", "sound")] = "tin-sampler",
        [("system-sounds", "sound")] = "system-sounds",
    };

    // What the music program says that it plays, one after the other, each for once round.
    private static readonly string[] Songs = ["The Ropewalk Trio – Low Tide, High Lamp", "Ada Skerry – Eleven Knots", "Harbour Works Band – Nobody’s Buoy", "The Ropewalk Trio – Salt on the Radio"];

    private readonly ConcurrentDictionary<AppPoint, (LoopSound Own, LoopSound? Test)> _loops = new();
    private readonly ConcurrentDictionary<DeviceId, CapturedSound> _captured = new();
    private volatile GearState _state = GearState.Empty;

    /// <summary>From the next block on, all is as this says.</summary>
    public void Become(GearState state)
    {
        ArgumentNullException.ThrowIfNull(state);
        _state = state;
        foreach (var (point, (own, test)) in _loops)
        {
            Set(own, test, state.Find(point.Id));
        }

        foreach (var (id, captured) in _captured)
        {
            if (state.Find(id) is { } device)
            {
                captured.Set(device);
            }
        }
    }

    /// <summary>Null: what its devices and programs give comes from points of the signal.</summary>
    public IInlet? Inlet(SourceInput input) => null;

    /// <inheritdoc/>
    public string? WhyAway(SourceInput input) => input switch
    {
        DeviceInput taken => _state.Find(taken.Device) switch
        {
            null => "its device is not on this computer",
            { IsPresent: false } device => $"{device.Name} is unplugged",
            { BusyWith: { } other } device => $"{device.Name} is busy: {other} has it",
            _ => null,
        },
        AppInput taken => _state.Find(taken.App) switch
        {
            null => "its program is not on this computer",
            { IsRunning: false } app => $"{app.Name} is not running",
            _ => null,
        },
        _ => null,
    };

    /// <inheritdoc/>
    public string? SongOf(AppId app) =>
        _state.Find(app) is { Kind: AppKind.Music, IsRunning: true, IsPlaying: true } && _loops.FirstOrDefault(l => l.Key.Id == app).Value.Own is { } loop ? Songs[loop.Round % Songs.Length] : null;

    /// <inheritdoc/>
    public IPortSound? Sound(Point point, int channels)
    {
        var state = _state;
        switch (point)
        {
            case DevicePoint { Side: Side.In } input when state.Find(input.Id) is { Joins.IsEmpty: true } device:
                return _captured.GetOrAdd(input.Id, _ => new CapturedSound([.. device.Inputs.Select((_, i) => SoundBefore(device, i))], device));
            case AppPoint port when Plays.TryGetValue((port.Id.Value, port.Port), out var key) && state.Find(port.Id) is { } app:
                var (own, test) = _loops.GetOrAdd(port, _ => (new LoopSound(sounds.Sound(key)), app.Tests is null ? null : new LoopSound(sounds.Sound("test-sound"))));
                Set(own, test, app);
                return test is null ? own : new Both(own, test);
            case AppPoint port when state.Find(port.Id) is { EvensVoices: not null } app && app.Find(port.Port) is { Side: Side.In }:
                return new FarSide(() => _state.Find(port.Id)?.EvensVoices == true);
            default:
                return null;
        }
    }

    /// <inheritdoc/>
    public void Serve(EnginePlan plan)
    {
        ArgumentNullException.ThrowIfNull(plan);
        foreach (var (id, captured) in _captured)
        {
            captured.Read(plan.IsRead(new DevicePoint(id, Side.In)));
        }
    }

    /// <inheritdoc/>
    public HeldClock? ClockOf(DeviceId device) => DriftOf(device) is { } drift ? new(drift.PartsPerMillion, drift.Latency, drift.Gaps) : null;

    /// <summary>What arrives of a device by its own clock; null: it is the engine's, or the device is not read.</summary>
    public DriftingInput? DriftOf(DeviceId device) => _captured.GetValueOrDefault(device)?.Drift;

    private (SoundBuffer? Sound, int Side) SoundBefore(Device device, int input) =>
        Before.TryGetValue((device.Id.Value, input), out var before) ? (sounds.Sound(before.Sound), before.Side) : (null, 0);

    private static void Set(LoopSound own, LoopSound? test, App? app)
    {
        own.Level = app is { IsRunning: true, IsPlaying: true } ? (float)app.Volume.Linear : 0;
        if (test is not null)
        {
            test.Level = app is { IsRunning: true, Tests: true } ? (float)app.Volume.Linear : 0;
        }
    }

    private sealed class Both(LoopSound one, LoopSound other) : IPortSound
    {
        public void Process(long frame, float[][] block)
        {
            one.Process(frame, block);
            other.Process(frame, block);
        }
    }
}
