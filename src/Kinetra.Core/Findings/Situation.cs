using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.Globalization;
using Kinetra.Core.Editing;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Findings;

/// <summary>A stream that should be on air and is not.</summary>
/// <param name="Stream">Which one.</param>
/// <param name="Why">Why, in a sentence.</param>
public sealed record StreamAway(StreamId Stream, string Why);

/// <summary>What is looked into: a show and a computer as they are wired, and where every sound in them goes. Any thread.</summary>
/// <param name="Routed">How all is wired.</param>
/// <param name="Unmet">What the show wants of the computer and what is not so.</param>
public sealed record Situation(Routed Routed, ImmutableArray<Unmet> Unmet)
{
    /// <summary>The streams that should be on air now and are not.</summary>
    public ImmutableArray<StreamAway> Away { get; init; } = [];

    /// <summary>The streams that are on air now.</summary>
    public ImmutableArray<StreamId> OnAir { get; init; } = [];

    /// <summary>Where every sound goes.</summary>
    public Spread Spread { get; } = Spread.Of(Routed);

    /// <summary>What is found in it, the most harmful first; worked out once.</summary>
    public ImmutableArray<Finding> Findings => LazyInitializer.EnsureInitialized(ref _findings, () => new Found(Examination.Of(this))).All;

    /// <summary>Whether anything at all comes from one place to another; worked out once.</summary>
    public Passage Passage => LazyInitializer.EnsureInitialized(ref _passage, () => new Passage(Routed));

    /// <summary>
    /// What is so by a finding, without names: the same whatever things are called, another where a figure, a way or the harm is. So that what was
    /// accepted stays quiet until its facts change.
    /// </summary>
    public string FactsOf(Finding finding)
    {
        ArgumentNullException.ThrowIfNull(finding);
        var facts = finding.Sentence;
        foreach (var name in Names)
        {
            facts = facts.Replace(name, "·", StringComparison.Ordinal);
        }

        return $"{finding.Harm}: {facts}";
    }

    /// <summary>What of the findings a person should see: all but those that were accepted as they are.</summary>
    public ImmutableArray<Finding> Open => Rig.Accepted.IsEmpty ? Findings : [.. Findings.Where(f => !IsAccepted(f))];

    /// <summary>True where a finding was accepted as it is.</summary>
    public bool IsAccepted(Finding finding)
    {
        ArgumentNullException.ThrowIfNull(finding);
        return Rig.Accepted.FirstOrDefault(a => a.Key == finding.Key) is { } accepted && accepted.Facts == FactsOf(finding);
    }

    // The longest first: one may be part of another.
    private IEnumerable<string> Names => LazyInitializer.EnsureInitialized(
        ref _allNames,
        () => [.. Rig.Sources.Select(x => x.Name).Concat(Rig.Mixes.Select(x => x.Name)).Concat(Rig.Cables.Select(x => x.Name)).Where(n => n.Length > 0).Distinct().OrderByDescending(n => n.Length)]);

    private Found? _findings;
    private Passage? _passage;
    private string[]? _allNames;

    private sealed record Found(ImmutableArray<Finding> All);

    /// <summary>True for a cable of the show.</summary>
    internal bool Has(CableId cable) => Rig.Find(cable) is not null;

    internal Rig Rig => Routed.Wiring.Rig;

    internal GearState Gear => Routed.Wiring.Gear;

    /// <summary>What a person calls a point.</summary>
    public string NameOf(Point point) => _names.GetOrAdd(point, FindName);

    /// <summary>"A", "A and B", "A, B and 3 others".</summary>
    internal static string Listed(IReadOnlyList<string> names) => names.Count switch
    {
        1 => names[0],
        2 => $"{names[0]} and {names[1]}",
        3 => $"{names[0]}, {names[1]} and {names[2]}",
        _ => $"{names[0]}, {names[1]} and {names.Count - 2} others",
    };

    private readonly ConcurrentDictionary<Point, string> _names = new();
    private readonly ConcurrentDictionary<Origin, Source?> _sources = new();

    private string FindName(Point point) => point switch
    {
        DevicePoint { Side: Side.Out } device when Gear.Find(device.Id) is null =>
            Rig.Mixes.SelectMany(m => m.Destinations).Select(d => d.End).OfType<BrowserOutput>().FirstOrDefault(e => e.Point == device)?.Label ?? "an output",
        CablePoint cable => Rig.Find(cable.Id)?.Name ?? "a cable",
        _ => Routed.Wiring.NameOf(point),
    };

    /// <summary>The same, and of a program with several inputs or outputs, which.</summary>
    public string NameInFull(Point point) => point is AppPoint port && Gear.Find(port.Id) is { } app && app.Find(port.Port) is { } found && app.Ports.Count(p => p.Side == found.Side) > 1
        ? $"{app.Name}, {found.Name}"
        : NameOf(point);

    /// <summary>True where the show wants a program's port set otherwise than it is: what comes of that need not be told beside it.</summary>
    internal bool IsWished(AppId app, string port) => Unmet.Any(u => u.App == app && u.Port == port);

    /// <summary>What a person calls a sound by where it begins: the source that takes it first, or else the device's channel or the program.</summary>
    internal string NameOf(Origin origin) => SourceOf(origin)?.Name ?? origin.Point switch
    {
        DevicePoint device when Gear.Find(device.Id) is { } found && origin.Channel < found.Inputs.Length => $"{found.Name}, {found.Inputs[origin.Channel].Name}",
        AppPoint port when Gear.Find(port.Id) is { } app && app.Ports.Count(p => p.Side == Side.Out) > 1 => $"{app.Name}, {app.Find(port.Port)?.Name}",
        _ => NameOf(origin.Point),
    };

    /// <summary>The source that takes a sound as it begins, the show's first; a catch-all only where it is none's own.</summary>
    internal Source? SourceOf(Origin origin) => _sources.GetOrAdd(origin, FindSource);

    private Source? FindSource(Origin origin) => Rig.Sources.FirstOrDefault(s => Takes(s, origin)) ?? (origin.Point is AppPoint port
        ? Rig.Sources.FirstOrDefault(s => s.Input is AppInput { Port: null } tap && tap.App == port.Id)
        : null);

    /// <summary>"4.1 kHz", "250 Hz", "38 ms", "−12 dB": as it is written on the screen.</summary>
    internal static string Hertz(double hertz) => hertz >= 1_000 ? $"{Plain(hertz / 1_000, "0.#")} kHz" : $"{Plain(hertz, "0")} Hz";

    /// <summary>A time, ms.</summary>
    internal static string Milliseconds(double milliseconds) => $"{Plain(Math.Abs(milliseconds), Math.Abs(milliseconds) < 10 ? "0.0" : "0")} ms";

    /// <summary>A level, dB.</summary>
    internal static string Decibels(double decibels) => $"{Plain(Math.Abs(decibels), Math.Abs(decibels) < 10 ? "0.0" : "0")} dB";

    /// <summary>What a way goes through beside where it begins and ends, by name, each once.</summary>
    internal ImmutableArray<string> Through(SoundPath way, Origin origin)
    {
        var outer = new HashSet<string> { NameOf(origin), NameOf(way.Links[^1].To) };
        return [.. way.Links.Skip(1).Select(l => NameOf(l.From)).Where(n => !outer.Contains(n)).Distinct()];
    }

    /// <summary>True where what a source comes from is not there now: it is wired, and silent.</summary>
    internal bool IsAway(Source source) => source.Input switch
    {
        DeviceInput input => Gear.Find(input.Device) is not { IsUsable: true } device || Math.Max(input.Left, input.Right ?? 0) >= device.Inputs.Length,
        AppInput input => Gear.Find(input.App) is not { IsRunning: true } app || (input.Port is { } port && app.Find(port) is null),
        _ => false,
    };

    /// <summary>What comes to whom, of all that is there now: what is away is wired still.</summary>
    internal IEnumerable<Arrival> Heard => Spread.Arrivals.Where(a => IsHere(a.Origin.Point) && IsHere(a.Listener));

    // Outputs of browsers are no devices of the computer.
    private bool IsHere(Point point) => point switch
    {
        DevicePoint device => Gear.Find(device.Id) is null or { IsUsable: true },
        AppPoint app => Gear.Find(app.Id) is null or { IsRunning: true },
        _ => true,
    };

    private static bool Takes(Source source, Origin origin) => source.Input switch
    {
        DeviceInput input => origin.Point is DevicePoint { Side: Side.In } device && device.Id == input.Device && (origin.Channel == input.Left || origin.Channel == input.Right),
        AppInput { Port: { } port } input => origin.Point is AppPoint app && app.Id == input.App && app.Port == port,
        _ => origin.Point is SourcePoint point && point.Id == source.Id,
    };

    private static string Plain(double value, string format) => value.ToString(format, CultureInfo.InvariantCulture);
}
