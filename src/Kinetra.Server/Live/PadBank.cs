using System.Collections.Immutable;
using Kinetra.Core.Engine;
using Kinetra.Core.Pads;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Data;
using Kinetra.Media;
using Kinetra.Server.Features.Sounds;
using Kinetra.Server.Hosting;

namespace Kinetra.Server.Live;

/// <summary>The pads of one rig, opened but not in use yet.</summary>
/// <param name="Player">What plays them.</param>
/// <param name="Pads">Those whose sound is there.</param>
/// <param name="Rig">The rig.</param>
sealed record PreparedPads(PadPlayer Player, ImmutableDictionary<PadId, PreparedPad> Pads, Rig Rig)
{
    /// <summary>What pressing a pad comes to.</summary>
    public PadSilence WhySilent(PadId id) => !Pads.TryGetValue(id, out var pad)
        ? Rig.Find(id) is null ? PadSilence.Unknown : PadSilence.NoSound
        : Rig.Find(pad.Pad.Source) is { Input: PadsInput } ? PadSilence.None : PadSilence.NoSource;
}

/// <summary>One pad whose sound is at hand.</summary>
/// <param name="Pad">As the show has it.</param>
/// <param name="Ready">As it is played.</param>
/// <param name="Sound">Its sound.</param>
/// <param name="Waiting">Keeps its beginning in memory, for as long as it is kept itself.</param>
sealed record PreparedPad(Pad Pad, ReadyPad Ready, StreamedSound Sound, ISoundReader Waiting);

/// <summary>Why a press of a pad plays nothing.</summary>
public enum PadSilence
{
    /// <summary>It is played.</summary>
    None,

    /// <summary>There is no such pad in the live show.</summary>
    Unknown,

    /// <summary>Its sound is no longer in the data folder.</summary>
    NoSound,

    /// <summary>The source that it is heard through is gone.</summary>
    NoSource,

    /// <summary>Too many orders wait already.</summary>
    TooMany,
}

/// <summary>The pads of the live show, ready to be played: their beginnings are in memory, so that a press waits for no disk. Any thread.</summary>
public sealed class PadBank(SoundLibrary sounds, ServerOptions options)
{
    // Whoever prepares has the show's turn; whoever presses takes what is used now.
    private PreparedPads _now = new(new PadPlayer(), ImmutableDictionary<PadId, PreparedPad>.Empty, Rig.Empty);

    /// <summary>What sounds now.</summary>
    public IReadOnlyList<SoundingPad> Sounding => Volatile.Read(ref _now).Player.Sounding();

    /// <summary>How many presses were not played since too many came within a moment.</summary>
    public long Refused => Volatile.Read(ref _now).Player.Refused;

    /// <summary>Presses a pad: it begins with the next block.</summary>
    /// <param name="id">Which one.</param>
    /// <param name="level">On top of its own gain, a factor.</param>
    /// <param name="frame">The engine's frame at which it begins; what is past already: at once.</param>
    public PadSilence Press(PadId id, float level = 1, long frame = 0)
    {
        var now = Volatile.Read(ref _now);
        return now.WhySilent(id) is not PadSilence.None and var why ? why : now.Player.Post(Press(now, id, level, frame)) ? PadSilence.None : PadSilence.TooMany;
    }

    /// <summary>A press of a pad at a frame, not given yet; null: it would play nothing.</summary>
    public PadOrder.Press? PressOf(PadId id, long frame)
    {
        var now = Volatile.Read(ref _now);
        return now.WhySilent(id) == PadSilence.None ? Press(now, id, 1, frame) : null;
    }

    /// <summary>Gives the player an order.</summary>
    public void Post(PadOrder order) => Volatile.Read(ref _now).Player.Post(order);

    /// <summary>How long a pad plays, frames; null: it goes round, or is not there.</summary>
    public long? FramesOf(PadId id) => Volatile.Read(ref _now).Pads.TryGetValue(id, out var pad) && pad.Ready.Play != PadPlay.Loop ? pad.Ready.Frames : null;

    /// <summary>The key of a pad went up.</summary>
    public void Release(PadId id, long frame = 0) => Volatile.Read(ref _now).Player.Post(new PadOrder.Release(frame, id));

    /// <summary>Ends what sounds of one pad, of a group, or of all.</summary>
    public void Stop(PadId? id = null, string? group = null, int? fade = null, long frame = 0) => Volatile.Read(ref _now).Player.Post(new PadOrder.Stop(frame, id, group, fade));

    /// <summary>Why a press of a pad plays nothing; <see cref="PadSilence.None"/>: it is played.</summary>
    public PadSilence WhySilent(PadId id) => Volatile.Read(ref _now).WhySilent(id);

    /// <summary>A pad of the live show, with a reader of its sound that waits for the disk; null: it is not there.</summary>
    internal (Pad Pad, ISoundReader Sound)? Find(PadId id) =>
        Volatile.Read(ref _now).Pads.TryGetValue(id, out var pad) ? (pad.Pad, pad.Sound.Follow(pad.Ready.Begin, mayWait: true)) : null;

    /// <summary>Opens what the rig needs that is not open yet. Nothing counts until <see cref="Use"/>. One caller at a time.</summary>
    internal async Task<PreparedPads> PrepareAsync(Rig rig, bool opening, CancellationToken cancel)
    {
        var (now, made) = (Volatile.Read(ref _now), ImmutableDictionary.CreateBuilder<PadId, PreparedPad>());
        if (!opening && rig.PadSets == now.Rig.PadSets)
        {
            return now with { Rig = rig };
        }

        foreach (var pad in rig.PadSets.SelectMany(s => s.Pads))
        {
            if (!opening && now.Pads.TryGetValue(pad.Id, out var old) && old.Pad == pad)
            {
                made[pad.Id] = old;
            }
            else if (await OpenAsync(pad.Sound, opening, cancel) is { } sound)
            {
                made[pad.Id] = Prepare(pad, sound);
            }
        }

        return new PreparedPads(opening ? new PadPlayer() : now.Player, made.ToImmutable(), rig);
    }

    /// <summary>From now on these count. What sounds of a pad that is gone fades out; a gain that changed is heard.</summary>
    internal void Use(PreparedPads prepared)
    {
        var before = Volatile.Read(ref _now);
        Volatile.Write(ref _now, prepared);
        if (before.Player != prepared.Player || before.Pads == prepared.Pads)
        {
            return;
        }

        foreach (var (id, old) in before.Pads)
        {
            if (!prepared.Pads.TryGetValue(id, out var pad))
            {
                prepared.Player.Post(new PadOrder.Stop(0, id));
            }
            else if (pad.Ready.Gain != old.Ready.Gain)
            {
                prepared.Player.Post(new PadOrder.Turn(0, id, pad.Ready.Gain));
            }
        }
    }

    private bool MayWait => options.Clock == ClockKind.Stepped;

    // While the database is away, a change of pads is kept all the same; one whose sound only the database knows of is silent, and says so.
    private async Task<StreamedSound?> OpenAsync(string address, bool opening, CancellationToken cancel)
    {
        try
        {
            return await sounds.OpenAsync(address, cancel);
        }
        catch (Exception e) when (!opening && !cancel.IsCancellationRequested && DatabaseFaults.IsAway(e))
        {
            return null;
        }
    }

    private PadOrder.Press Press(PreparedPads now, PadId id, float level, long frame)
    {
        var pad = now.Pads[id];
        return new(frame, pad.Ready, pad.Sound.Follow(pad.Ready.Begin, MayWait), now.Player.Inlet(pad.Pad.Source), level, pad);
    }

    private static PreparedPad Prepare(Pad pad, StreamedSound sound)
    {
        // Made here and not by the engine: what is not at hand is read.
        var ready = ReadyPad.Of(pad, sound.Follow(0, mayWait: true));
        return new PreparedPad(pad, ready, sound, sound.Read(ready.Begin, mayWait: false));
    }
}
