using System.Collections.Immutable;
using Kinetra.Core.Engine;
using Kinetra.Core.Hands;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Server.Features.Pads;
using Kinetra.Server.Features.Takes;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.SecondScreen;

/// <summary>Something with a name and a look.</summary>
public sealed record BoardThing(string Id, string Name, SourceLook? Look = null);

/// <summary>A pad.</summary>
/// <param name="Id">Its id.</param>
/// <param name="Name">Its name.</param>
/// <param name="Look">Its colour and shape.</param>
/// <param name="Play">What pressing it does.</param>
/// <param name="Sound">The address of its sound.</param>
/// <param name="Begin">Its beginning in the sound, ms.</param>
/// <param name="End">Its end, ms.</param>
/// <param name="Silent">Why pressing it plays nothing; null: it plays.</param>
public sealed record BoardPad(string Id, string Name, SourceLook Look, PadPlay Play, string Sound, double Begin, double End, string? Silent);

/// <summary>A source in a lane.</summary>
/// <param name="Id">The source.</param>
/// <param name="Name">Its name.</param>
/// <param name="Look">Its look.</param>
/// <param name="Gain">Its send.</param>
/// <param name="Muted">Whether it is muted there.</param>
/// <param name="Heard">False: it waits in the dock.</param>
public sealed record BoardSend(string Id, string Name, SourceLook Look, Gain Gain, bool Muted, bool Heard);

/// <summary>A lane.</summary>
/// <param name="Id">The mix.</param>
/// <param name="Name">Its name.</param>
/// <param name="Sends">Its sources.</param>
public sealed record BoardLane(string Id, string Name, ImmutableArray<BoardSend> Sends);

/// <summary>What a second screen shows: what it was given, and nothing else of the show.</summary>
/// <param name="Show">The show's name.</param>
/// <param name="Rights">What it may do.</param>
/// <param name="Hushed">Whether every listener hears silence.</param>
/// <param name="Recording">Whether a take is recorded.</param>
/// <param name="Set">The set at hand; null: none.</param>
/// <param name="Sets">All sets.</param>
/// <param name="Pads">The pads of the set at hand.</param>
/// <param name="Voices">Who may cough.</param>
/// <param name="TalkTo">To whom those may speak alone.</param>
/// <param name="Next">The next cue's name; null: none.</param>
/// <param name="CuesHeld">Whether cues are held.</param>
/// <param name="Lanes">The lanes.</param>
/// <param name="Holds">What is held, in words.</param>
public sealed record BoardDocument(
    string Show, ScreenRights Rights, bool Hushed, bool Recording, string? Set, ImmutableArray<BoardThing> Sets, ImmutableArray<BoardPad> Pads, ImmutableArray<BoardThing> Voices,
    ImmutableArray<BoardThing> TalkTo, string? Next, bool CuesHeld, ImmutableArray<BoardLane> Lanes, ImmutableArray<string> Holds);

/// <summary>Makes it of what is live.</summary>
public sealed class Board(LiveShow live, PadsAtHand atHand, PadBank bank, Cues cues, HushSwitch hush, TakeRecorder recorder, Playing playing)
{
    /// <summary>As it is now, for somebody with these rights.</summary>
    public BoardDocument Now(ScreenRights rights)
    {
        ArgumentNullException.ThrowIfNull(rights);
        var show = live.Show;
        var rig = show.Rig;
        var set = rights.Pads ? atHand.Now : null;
        var next = rights.Cues && cues.Now.Next is { } id ? rig.Cues.FirstOrDefault(c => c.Id == id)?.Name : null;
        return new(
            show.Name,
            rights,
            hush.IsOn,
            recorder.Current is not null,
            set?.Id.Value,
            rights.Pads ? [.. rig.PadSets.Select(s => new BoardThing(s.Id.Value, s.Name))] : [],
            [.. (set?.Pads ?? []).Select(p => new BoardPad(p.Id.Value, p.Name, p.Look, p.Play, p.Sound, p.Begin, p.End, bank.WhySilent(p.Id) is var why and not PadSilence.None ? PadPlayEndpoints.Words(why) : null))],
            [.. rig.Sources.Where(s => ScreenRights.Has(rights.Voices, s.Id.Value)).Select(s => new BoardThing(s.Id.Value, s.Name, s.Look))],
            [.. rig.Mixes.Where(m => ScreenRights.Has(rights.TalkTo, m.Id.Value)).Select(m => new BoardThing(m.Id.Value, m.Name))],
            next,
            rights.Cues && cues.Now.Held,
            [.. rig.Mixes.Where(m => ScreenRights.Has(rights.Lanes, m.Id.Value)).Select(m => Lane(rig, m))],
            [.. playing.Holds.Select(h => h.Hold.Words(rig))]);
    }

    private static BoardLane Lane(Rig rig, Mix mix) => new(
        mix.Id.Value,
        mix.Name,
        [.. mix.Sends.Select(s => (Send: s, Source: rig.Find(s.Source)!)).Select(s => new BoardSend(s.Source.Id.Value, s.Source.Name, s.Source.Look, s.Send.Gain, s.Send.Muted, s.Send.Heard))]);

    /// <summary>Whether a pad of the live show has a sound.</summary>
    public bool Has(string sound) => live.Show.Rig.PadSets.Any(s => s.Pads.Any(p => p.Sound == sound));

    /// <summary>Which pads sound, and how far each has come, 0 to 1.</summary>
    public ImmutableArray<(string Pad, float Part)> Sounding() => [.. bank.Sounding.Select(s => (s.Pad.Value, (float)Math.Round(s.Part, 3)))];
}
