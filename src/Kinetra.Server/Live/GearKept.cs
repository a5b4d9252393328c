using System.Collections.Immutable;
using System.Text.Json;
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
            return StoredJson.Read<GearMemory>(File.ReadAllText(FilePath), StoredJson.Version, "The practice computer") is var kept
                ? kept with { State = Brought(kept.State, fresh.State) }
                : fresh;
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
                JsonSerializer.Serialize(file, memory, RigJson.Options);
                file.Flush(flushToDisk: true);
            }

            File.Move(part, FilePath, overwrite: true);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            LogUnsaved(log, e.Message);
        }
    }

    // What this version ships, set as it was.
    private static GearState Brought(GearState kept, GearState fresh) => fresh with
    {
        Devices = [.. fresh.Devices.Select(d => kept.Find(d.Id) is { } old ? Set(d, old) : d), .. kept.Devices.Where(d => !d.Joins.IsDefaultOrEmpty)],
        Apps = [.. fresh.Apps.Select(a => kept.Find(a.Id) is { } old ? Set(a, old) : a)],
        Defaults = kept.Defaults.Length == GearState.RoleCount ? kept.Defaults : fresh.Defaults,
    };

    private static Device Set(Device device, Device old) => device with
    {
        IsPresent = old.IsPresent,
        BusyWith = old.BusyWith,
        Rate = old.Rate,
        BufferFrames = old.BufferFrames,
        IsMonitoring = old.IsMonitoring && device.CanMonitor,
        Since = old.Since,
        Inputs =
        [
            .. device.Inputs.Select((input, i) => i < old.Inputs.Length
                ? input with { Gain = input.Gain is null ? null : old.Inputs[i].Gain, LowCut = input.LowCut is null ? null : old.Inputs[i].LowCut, IsExposed = old.Inputs[i].IsExposed }
                : input),
        ],
    };

    private static App Set(App app, App old) => app with
    {
        IsRunning = old.IsRunning,
        IsPlaying = old.IsPlaying,
        Volume = old.Volume,
        EvensVoices = app.EvensVoices is null ? null : old.EvensVoices ?? app.EvensVoices,
        Tests = app.Tests is null ? null : old.Tests ?? app.Tests,
        Knows = old.Knows,
        Since = old.Since,
        Ports = [.. app.Ports.Select(p => old.Find(p.Id) is { } was && !p.IsFixed ? p with { Choice = was.Choice } : p)],
    };

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
