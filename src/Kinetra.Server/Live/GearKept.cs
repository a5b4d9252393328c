using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Nodes;
using Kinetra.Core.Editing;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Data;
using Kinetra.Gear.Practice;
using Kinetra.Server.Hosting;

namespace Kinetra.Server.Live;

/// <summary>One line of the computer's own history.</summary>
/// <param name="At">When.</param>
/// <param name="By">Who: a person, an installation, or the show.</param>
/// <param name="Window">What the person's window calls itself.</param>
/// <param name="Sentence">What was changed.</param>
public sealed record GearLine(DateTimeOffset At, GearActor By, string? Window, string Sentence);

/// <summary>A change of the computer that can be taken back.</summary>
/// <param name="Number">By what it is asked for; counts since the start.</param>
/// <param name="Line">What was changed.</param>
/// <param name="Before">The computer before it.</param>
/// <param name="After">The computer after it.</param>
public sealed record GearDone(long Number, GearLine Line, GearState Before, GearState After)
{
    /// <summary>The most that are kept.</summary>
    public const int Most = 50;
}

/// <summary>Who changed something of the computer.</summary>
[System.Text.Json.Serialization.JsonConverter(typeof(System.Text.Json.Serialization.JsonStringEnumConverter<GearActor>))]
public enum GearActor
{
    /// <summary>A person, by hand.</summary>
    Person,

    /// <summary>A device that was plugged in, or a cable that was made.</summary>
    Installation,

    /// <summary>The show, as it is wished or when it is left.</summary>
    Show,
}

/// <summary>How the computer was set before a show was opened.</summary>
/// <param name="Show">The show.</param>
/// <param name="Defaults">The defaults then.</param>
/// <param name="Ports">What the programs were set to.</param>
public sealed record GearBefore(Guid Show, ImmutableArray<Point?> Defaults, ImmutableArray<PortWish> Ports);

/// <summary>The practice computer as it is kept: how it is, what was changed, and how it was before the live show.</summary>
/// <param name="State">How it is.</param>
/// <param name="History">What was changed, newest last.</param>
/// <param name="Before">How it was before the live show was opened; null: no show has been opened yet.</param>
public sealed record GearMemory(GearState State, ImmutableArray<GearLine> History, GearBefore? Before = null)
{
    /// <summary>The most lines that are kept.</summary>
    public const int MostLines = 200;
}

/// <summary>
/// Keeps the practice computer in a file of the data folder: it is the computer's, not the show's, and the database may be away. What cannot be
/// read is set aside, and the computer is as it was when it was new.
/// </summary>
public sealed partial class GearKept(ServerOptions options, PrivateFolder folder, ILogger<GearKept> log)
{
    private string FilePath => Path.Combine(options.DataFolder, "practice-computer.json");

    /// <summary>Reads it.</summary>
    public GearMemory Load()
    {
        var fresh = new GearMemory(PracticeCatalog.Initial(), []);
        try
        {
            var text = File.ReadAllText(FilePath);
            var kept = StoredJson.Read<Kept>(text, VersionOf(text), "The practice computer");
            return kept.Memory is { State: { Devices.IsDefault: false, Apps.IsDefault: false, Defaults.IsDefault: false } state, History.IsDefault: false } memory
                && memory.Before is null or { Defaults.Length: GearState.RoleCount, Ports.IsDefault: false }
                ? memory with { State = Brought(state, fresh.State) }
                : throw new InvalidDataException("Something in it is missing.");
        }
        catch (Exception e) when (e is FileNotFoundException or DirectoryNotFoundException)
        {
            return fresh;
        }
        catch (Exception e) when (e is InvalidDataException or IOException or UnauthorizedAccessException)
        {
            LogDamaged(log, e.Message);
            TrySetAside();
            return fresh;
        }
    }

    /// <summary>Writes it, whole or not at all. A disk that is full keeps nobody from changing the computer.</summary>
    public void Save(GearMemory memory)
    {
        try
        {
            folder.Ensure();
            var part = FilePath + ".part";
            using (var file = new FileStream(part, FileMode.Create, FileAccess.Write))
            {
                JsonSerializer.Serialize(file, new Kept(StoredJson.Version, memory), RigJson.Options);
                file.Flush(flushToDisk: true);
            }

            File.Move(part, FilePath, overwrite: true);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            LogUnsaved(log, e.Message);
        }
    }

    private static int VersionOf(string text)
    {
        try
        {
            return (int?)JsonNode.Parse(text)?["version"] ?? throw new InvalidDataException("It does not say of which form it is.");
        }
        catch (Exception e) when (e is JsonException or InvalidOperationException or FormatException)
        {
            throw new InvalidDataException("It cannot be understood.", e);
        }
    }

    // What this version ships, set as it was, as far as that is possible: every value is held to what a person could set.
    private static GearState Brought(GearState kept, GearState fresh)
    {
        var state = fresh with
        {
            Devices = [.. fresh.Devices.Select(d => kept.Devices.FirstOrDefault(o => o?.Id == d.Id) is { } old ? Set(d, old) : d)],
            Apps = [.. fresh.Apps.Select(a => kept.Apps.FirstOrDefault(o => o?.Id == a.Id) is { Ports.IsDefault: false } old ? Set(a, old) : a)],
        };
        foreach (var joined in kept.Devices.Where(d => d is { Joins.IsDefaultOrEmpty: false }))
        {
            state = new JoinDevices(joined.Id, joined.Name ?? "", joined.Joins).Apply(state, None, joined.Since ?? default) is GearOutcome.Done done ? done.State : state;
        }

        // Devices that are unplugged and cables that the show has by then may well be defaults.
        return kept.Defaults.Length == GearState.RoleCount && kept.Defaults.All(d => d is null or CablePoint || (d is DevicePoint device && state.Find(device.Id) is not null))
            ? state with { Defaults = kept.Defaults }
            : state;
    }

    private static readonly CablesNow None = new(ImmutableDictionary<CableId, (string Name, int Channels)>.Empty);

    private static Device Set(Device device, Device old) => device with
    {
        IsPresent = old.IsPresent,
        BusyWith = old.BusyWith,
        Rate = old.Rate is >= Device.LowestRate and <= Device.HighestRate ? old.Rate : device.Rate,
        BufferFrames = old.BufferFrames is >= SetDevice.LeastBuffer and <= SetDevice.MostBuffer ? old.BufferFrames : device.BufferFrames,
        IsMonitoring = old.IsMonitoring && device.CanMonitor,
        Since = old.Since,
        Inputs = [.. device.Inputs.Select((input, i) => !old.Inputs.IsDefault && i < old.Inputs.Length && old.Inputs[i] is { } was ? Set(input, was) : input)],
    };

    private static DeviceInputChannel Set(DeviceInputChannel input, DeviceInputChannel old) => input with
    {
        Gain = input.Gain is not null && old.Gain is >= 0 and <= SetDeviceInput.MostGain ? old.Gain : input.Gain,
        LowCut = input.LowCut is null ? null : old.LowCut ?? input.LowCut,
        IsExposed = old.IsExposed,
    };

    private static App Set(App app, App old) => app with
    {
        IsRunning = old.IsRunning,
        IsPlaying = old.IsPlaying,
        Volume = old.Volume.IsAllowed && old.Volume.Decibels <= 0 ? old.Volume : app.Volume,
        EvensVoices = app.EvensVoices is null ? null : old.EvensVoices ?? app.EvensVoices,
        Tests = app.Tests is null ? null : old.Tests ?? app.Tests,
        Knows = old.Knows ?? [],
        Since = old.Since,
        Ports =
        [
            .. app.Ports.Select(p => !p.IsFixed && old.Ports.FirstOrDefault(o => o?.Id == p.Id) is { } was && GearRules.CheckChoice("", was.Choice).IsEmpty ? p with { Choice = was.Choice } : p),
        ],
    };

    private sealed record Kept(int Version, GearMemory? Memory);

    private void TrySetAside()
    {
        try
        {
            File.Move(FilePath, FilePath + ".damaged", overwrite: true);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            // It is written over with the next change.
        }
    }

    [LoggerMessage(LogLevel.Warning, "The practice computer's file was set aside, and the computer is as new: {Reason}")]
    private static partial void LogDamaged(ILogger log, string reason);

    [LoggerMessage(LogLevel.Warning, "The practice computer could not be stored; it is again with the next change: {Reason}")]
    private static partial void LogUnsaved(ILogger log, string reason);
}
