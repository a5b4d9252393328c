using System.Collections.Immutable;
using Kinetra.Core.Engine;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Gear;
using Kinetra.Media;
using Kinetra.Server.Features.Sounds;
using Kinetra.Server.Hosting;

namespace Kinetra.Server.Live;

/// <summary>The inlets of one rig, opened but not in use yet.</summary>
public sealed class PreparedInlets
{
    internal PreparedInlets(Dictionary<SourceId, (SourceInput Input, IInlet Inlet)> inlets, PreparedPads pads) => (Inlets, Pads) = (inlets, pads);

    internal Dictionary<SourceId, (SourceInput Input, IInlet Inlet)> Inlets { get; }

    internal PreparedPads Pads { get; }
}

/// <summary>Gives each source its inlet, and the same one as long as its input stays the same.</summary>
public sealed partial class SourceInlets(SoundLibrary sounds, GearAround around, PadBank pads, ServerOptions options, ILogger<SourceInlets> log)
{
    private Dictionary<SourceId, (SourceInput Input, IInlet Inlet)> _inlets = [];
    private ImmutableHashSet<SourceId> _kept = [];

    /// <summary>Opens what the rig needs. Nothing counts until <see cref="Use"/>. One caller at a time.</summary>
    /// <param name="rig">The rig.</param>
    /// <param name="opening">True: the show is being opened, so every inlet is its own, and sounds that play once wait until somebody plays them.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<PreparedInlets> PrepareAsync(Rig rig, bool opening, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(rig);
        var next = new Dictionary<SourceId, (SourceInput Input, IInlet Inlet)>();
        var ready = await pads.PrepareAsync(rig, opening, cancel);
        foreach (var source in rig.Sources.Where(s => !s.Input.IsLinked))
        {
            next[source.Id] = !opening && _inlets.TryGetValue(source.Id, out var old) && old.Input == source.Input
                ? old
                : (source.Input, source.Input is PadsInput ? ready.Player.Inlet(source.Id) : await OpenAsync(source, opening, cancel));
        }

        return new PreparedInlets(next, ready);
    }

    /// <summary>Reads the sounds of a rig, so that preparing it takes no time; for as long as what is returned is kept.</summary>
    public async Task<IReadOnlyList<StreamedSound>> WarmAsync(Rig rig, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(rig);
        var read = new List<StreamedSound>();
        foreach (var address in rig.Sources.Select(s => s.Input).OfType<SoundFileInput>().Select(f => f.Sound).Concat(rig.PadSets.SelectMany(s => s.Pads).Select(p => p.Sound)).Distinct())
        {
            if (await sounds.OpenAsync(address, cancel) is { } sound)
            {
                read.Add(sound);
            }
        }

        return read;
    }

    /// <summary>From now on the inlets of these sources stay, though a rig does not have them any more.</summary>
    public void Keep(ImmutableHashSet<SourceId> sources) => Volatile.Write(ref _kept, sources);

    /// <summary>From now on these inlets count, and those of sources that have gone are forgotten.</summary>
    public void Use(PreparedInlets prepared)
    {
        ArgumentNullException.ThrowIfNull(prepared);
        foreach (var (id, inlet) in Volatile.Read(ref _inlets).Where(i => Volatile.Read(ref _kept).Contains(i.Key)))
        {
            prepared.Inlets.TryAdd(id, inlet);
        }

        Volatile.Write(ref _inlets, prepared.Inlets);
        pads.Use(prepared.Pads);
    }

    /// <summary>The inlet of a source of the rig that was prepared for last; one that records from a cable has it from the engine.</summary>
    public IInlet For(Source source)
    {
        ArgumentNullException.ThrowIfNull(source);
        return Volatile.Read(ref _inlets)[source.Id].Inlet;
    }

    private async Task<IInlet> OpenAsync(Source source, bool opening, CancellationToken cancel)
    {
        switch (source.Input)
        {
            case SoundFileInput file when await sounds.OpenAsync(file.Sound, cancel) is { } sound:
                var offset = opening && !file.Loop ? sound.Frames : 0;
                return new SoundInlet(sound.Read(offset, mayWait: options.Clock == ClockKind.Stepped), file.Loop, beginsWithSource: true, offset);
            case not SoundFileInput when around.Inlet(source.Input) is { } inlet:
                return inlet;
            default:
                LogMissing(log, source.Name);
                return new SilentInlet();
        }
    }

    [LoggerMessage(LogLevel.Warning, "{Source} stays silent: its sound is no longer in the data folder.")]
    private static partial void LogMissing(ILogger log, string source);
}
