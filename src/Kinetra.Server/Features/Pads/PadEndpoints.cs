using System.Collections.Immutable;
using Kinetra.Core.Editing;
using Kinetra.Core.Pads;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Media;
using Kinetra.Server.Features.Analysis;
using Kinetra.Server.Features.Bench;
using Kinetra.Server.Features.Shows;
using Kinetra.Server.Features.Sounds;
using Kinetra.Server.Features.Sources;
using Kinetra.Server.Hosting;
using Kinetra.Server.Jobs;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Pads;

/// <summary>Pads: their sets, what lies in them, how loud they are. Each change is a step of the show.</summary>
sealed class PadEndpoints : IFeature
{
    private const string LiveAllowed = "a pad of the live show";
    private static readonly JobKind Levelling = new("measure", AtOnce: 1, MostWaiting: 8);

    public void AddTo(IServiceCollection services, ServerOptions options)
    {
        services.AddSingleton<PadSounds>().AddSingleton<PadsAtHand>().AddSingleton<HeldPads>().AddSingleton<IAnalysisTopic, PadTopic>();
    }

    public void MapTo(IEndpointRouteBuilder routes)
    {
        routes.MapGet("/pad-sounds/{sound}", SoundOfAsync).WithName("getPadSound").WithSummary("How long a stored sound is, and its waveform.");
        var show = routes.MapGroup(ShowEndpoints.Path);
        show.MapGet("/pads", Get).WithName("getPads").WithSummary("Which set of pads is at hand, and which pads a press does not play.");
        show.MapPut("/pads/at-hand", TakeInHand).WithName("takePadSet").WithSummary("Takes a set of pads in hand, in every window. What sounds of another plays on.");
        show.MapPost("/pad-sounds", TakeInAsync).WithName("addPadSound").DisableAntiforgery().WithSummary("Takes in a sound file for pads (multipart: file). It changes no show yet.");
        show.MapPost("/pad-sets", AddSetAsync).WithName("addPadSet").WithSummary("Adds a set of pads.");
        show.MapPatch("/pad-sets/{set}", ChangeSetAsync).WithName("changePadSet").WithSummary("Renames or moves a set of pads.");
        show.MapDelete("/pad-sets/{set}", (string set, ShowCommands commands, [AsParameters] CommandCall call) => commands.DoAsync(call, new RemovePadSet(new(set))))
            .WithName("removePadSet").WithSummary("Removes a set of pads, with what lies in it.");
        show.MapPost("/pad-sets/{set}/pads", AddAsync).WithName("addPads").WithSummary("Adds pads to a set, as one step.");
        show.MapPost("/pad-sets/{set}/heard", AddHeardAsync).WithName("addHeardPad").WithSummary("Makes a pad of what was just heard of a source or a mix.");
        show.MapPatch("/pads/{pad}", ChangeAsync).WithName("changePad").WithSummary("Changes a pad.");
        show.MapDelete("/pads/{pad}", (string pad, ShowCommands commands, [AsParameters] CommandCall call) => commands.DoAsync(call, new RemovePad(new(pad))))
            .WithName("removePad").WithSummary("Removes a pad.");
        show.MapPut("/pads/{pad}/place", (string pad, PadPlaceChange place, ShowCommands commands, [AsParameters] CommandCall call) =>
            commands.DoAsync(call, rig => Moved(rig, new(pad), place))).WithName("movePad").WithSummary("Puts a pad elsewhere: into another set, onto another key. One that lies there changes places with it.");
        show.MapGet("/pads/{pad}/loudness", LoudnessAsync).WithName("getPadLoudness").WithSummary("How loud a pad is for each listener, as it is or as it would be with the gain that is proposed; measured by playing it.");
        show.MapPut("/pad-sets/{set}/levels", LevelAsync).WithName("levelPads").WithSummary("Gives pads of a set the gains that put them where they are wished beside the voice, as one step.");
    }

    private static async Task<Results<Ok<PadSoundDocument>, ProblemHttpResult>> SoundOfAsync(string sound, Data.SoundStore store, PadSounds sounds, CancellationToken cancel) =>
        await store.FindAsync(sound, cancel) is { } row && await sounds.ColumnsAsync(sound, cancel) is { } columns
            ? TypedResults.Ok(DocumentOf(row, columns))
            : Problems.NotFound("sound", "This sound is not stored here.", "the address of a stored sound");

    private static Results<Ok<PadsDocument>, ProblemHttpResult> Get(Guid show, LiveShow live, PadsAtHand hand, PadBank bank)
    {
        var state = live.State;
        return state.Show.Id == show
            ? TypedResults.Ok(new PadsDocument(
                hand.Now?.Id,
                [.. state.Show.Rig.PadSets.SelectMany(s => s.Pads).Select(p => (p.Id, Why: bank.WhySilent(p.Id))).Where(p => p.Why != PadSilence.None).Select(p => new SilentPad(p.Id, PadPlayEndpoints.Words(p.Why)))]))
            : CommandAnswers.NotLive(state);
    }

    private static Results<NoContent, ProblemHttpResult> TakeInHand(Guid show, PadSetAtHand wanted, LiveShow live, PadsAtHand hand)
    {
        var state = live.State;
        if (state.Show.Id != show)
        {
            return CommandAnswers.NotLive(state);
        }

        if (state.Show.Rig.Find(new PadSetId(wanted.Set)) is null)
        {
            return Problems.NotFound("set", $"There is no pad set “{wanted.Set}”.", "a set of the live show");
        }

        hand.Take(new(wanted.Set));
        return TypedResults.NoContent();
    }

    private static async Task<Results<Ok<PadSoundDocument>, ProblemHttpResult>> TakeInAsync(
        Guid show, IFormFile file, LiveShow live, SoundLibrary library, PadSounds sounds, CancellationToken cancel)
    {
        var state = live.State;
        if (state.Show.Id != show)
        {
            return CommandAnswers.NotLive(state);
        }

        try
        {
            await using var content = file.OpenReadStream();
            var row = await library.TakeInAsync(content, file.FileName, cancel);

            // The same sound may have come under another name before.
            return TypedResults.Ok(DocumentOf(row, await sounds.ColumnsAsync(row.Address, cancel) ?? "") with { Name = NameOf(file.FileName) });
        }
        catch (SoundFileException refusal)
        {
            return Problems.Invalid("file", $"{Names.Cut(file.FileName, 100)}: {refusal.What}", refusal.Allowed);
        }
    }

    private static Task<Results<Ok<ShowDocument>, ProblemHttpResult>> AddSetAsync(NewPadSet wanted, ShowCommands commands, [AsParameters] CommandCall call) =>
        commands.DoAsync(call, rig => new AddPadSet(new PadSet { Id = PadSetId.New(), Name = wanted.Name ?? FreeNames.For(rig.PadSets.Select(s => s.Name), "Pads", "Pads") }));

    private static Task<Results<Ok<ShowDocument>, ProblemHttpResult>> ChangeSetAsync(string set, PadSetChange change, ShowCommands commands, [AsParameters] CommandCall call) =>
        commands.DoAsync(call, new SetPadSet(new(set), change.Name, change.Index));

    private static async Task<Results<Ok<ShowDocument>, ProblemHttpResult>> AddAsync(
        string set, NewPads wanted, Data.SoundStore store, SoundLibrary library, ShowCommands commands, [AsParameters] CommandCall call, CancellationToken cancel)
    {
        if (wanted.Pads.IsDefaultOrEmpty || wanted.Pads.Length > RigLimits.PadsOfSet || wanted.Pads.Any(p => p is null))
        {
            return Problems.Invalid("pads", "These pads cannot be added in one step.", $"1 to {RigLimits.PadsOfSet} pads, none of them null");
        }

        var rows = new List<Data.Rows.SoundRow>();
        var opened = new List<object?>();
        for (var i = 0; i < wanted.Pads.Length; i++)
        {
            if (await store.FindAsync(wanted.Pads[i].Sound, cancel) is not { } row)
            {
                return Problems.Invalid($"pads[{i}].sound", "This sound is not stored here.", "the address of a sound that was taken in");
            }

            // Read before it is this command's turn.
            rows.Add(row);
            opened.Add(await library.OpenAsync(row.Address, cancel));
        }

        var answer = await commands.DoAsync(call, rig => New(rig, new(set), wanted.Source, [.. wanted.Pads.Select((p, i) => (Func<SourceId, int, Pad>)((source, n) => new Pad
        {
            Id = PadId.New(),
            Name = p.Name ?? NameOf(rows[i].FileName),
            Sound = rows[i].Address,
            Source = source,
            End = MillisecondsOf(rows[i].Frames),
            Key = p.Key ?? "",
            Look = new(n % SourceLook.Count, n / SourceLook.Count % SourceLook.Count),
        }))]));
        GC.KeepAlive(opened);
        return answer;
    }

    private static async Task<Results<Ok<ShowDocument>, ProblemHttpResult>> AddHeardAsync(
        string set, HeardPad wanted, LiveShow live, RecentSounds recent, SoundLibrary library, ShowCommands commands, [AsParameters] CommandCall call, CancellationToken cancel)
    {
        var state = live.State;
        if (state.Show.Id != call.Show)
        {
            return CommandAnswers.NotLive(state);
        }

        if (wanted.Seconds is null == wanted.From is null)
        {
            return Problems.Invalid("seconds", "A pad is the last seconds of what was heard, or all since an engine frame.", "either seconds or from");
        }

        if (wanted.Of is not (SourcePoint { Tap: Tap.AfterChain } or MixPoint { Tap: Tap.AfterChain }) || !state.Show.Rig.Has(wanted.Of) || recent.FindHeard(wanted.Of) is not { } kept)
        {
            return Problems.NotFound("of", "There is no such source or mix.", "source/ID or mix/ID of the live show");
        }

        var (begin, end) = kept.Kept;
        var from = wanted.From is { } since ? Math.Max(begin, since) : begin;
        if (end - from < RigLimits.ShortestPad * AudioFormat.SampleRate / 1000 || kept.Take(from, (int)(end - from)) is not { } sound)
        {
            return Problems.Invalid(wanted.From is null ? "seconds" : "from", "There is nothing of it that could be heard again yet.", $"something that was heard for {RigLimits.ShortestPad} ms or longer");
        }

        var name = wanted.Name ?? Names.Cut($"{state.Show.Rig.NameOf(wanted.Of)} just now", RigLimits.NameLength);
        if (RigRules.CheckName("name", name.Trim()) is { } problem)
        {
            return Problems.Invalid([problem]);
        }

        try
        {
            var row = await library.TakeInAsync(sound, name, cancel);
            var opened = await library.OpenAsync(row.Address, cancel);
            var length = MillisecondsOf(row.Frames);
            var answer = await commands.DoAsync(call, rig => New(rig, new(set), wanted.Source, [(source, n) => new Pad
            {
                Id = PadId.New(),
                Name = name.Trim(),
                Sound = row.Address,
                Source = source,
                Begin = Math.Max(0, Math.Min(wanted.Seconds is { } last ? length - (last * 1000) : 0, length - RigLimits.ShortestPad)),
                End = length,
                Key = wanted.Key ?? "",
                Look = new(n % SourceLook.Count, n / SourceLook.Count % SourceLook.Count),
            }]));
            GC.KeepAlive(opened);
            return answer;
        }
        catch (SoundFileException refusal)
        {
            return Problems.Invalid("of", refusal.What, refusal.Allowed);
        }
    }

    // Two pads of a set that change places; the one that is moved from another set sends the other to wait for a key.
    private static RigCommand Moved(Rig rig, PadId id, PadPlaceChange place)
    {
        var move = new MovePad(id, new(place.Set), place.Index, place.Key);
        if (string.IsNullOrEmpty(place.Key) || rig.Find(id) is not var (set, pad) || rig.Find(new PadSetId(place.Set))?.Pads.FirstOrDefault(p => p.Key == place.Key && p.Id != id) is not { } other)
        {
            return move;
        }

        var left = set.Id.Value == place.Set ? pad.Key : "";
        return left.Length == 0
            ? new Several([new SetPad(other.Id, Key: ""), move])
            : new Several([new SetPad(other.Id, Key: ""), move, new SetPad(other.Id, Key: left)]);
    }

    /// <summary>What adds pads to a set; where the show has nothing through which pads are heard, that comes with them.</summary>
    internal static RigCommand New(Rig rig, PadSetId set, SourceId? through, IReadOnlyList<Func<SourceId, int, Pad>> pads)
    {
        var commands = new List<RigCommand>();
        var source = through ?? rig.Sources.FirstOrDefault(s => s.Input is PadsInput)?.Id;
        if (source is null)
        {
            var added = new Source { Id = SourceId.New(), Name = FreeNames.For(rig, "Pads"), Kind = SourceKind.Pads, Input = new PadsInput(), Look = FreeNames.Look(rig) };
            commands.Add(new AddSource(added));
            source = added.Id;
        }

        var count = rig.Find(set)?.Pads.Length ?? 0;
        commands.AddRange(pads.Select((make, i) => new AddPad(set, make(source.Value, count + i))));
        return commands.Count == 1 ? commands[0] : new Several([.. commands]);
    }

    private static Task<Results<Ok<ShowDocument>, ProblemHttpResult>> ChangeAsync(string pad, PadChange change, ShowCommands commands, [AsParameters] CommandCall call) =>
        commands.DoAsync(
            call,
            new SetPad(new(pad), change.Name, null, change.Source, change.Begin, change.End, change.FadeIn, change.FadeOut, change.Gain, change.Play, change.Key, change.Group, change.Dim, change.Look));

    private static async Task<Results<Ok<PadLoudnessDocument>, ProblemHttpResult>> LoudnessAsync(
        Guid show, string pad, PadWish? wish, LiveShow live, PadSounds sounds, CancellationToken cancel)
    {
        var state = live.State;
        if (state.Show.Id != show)
        {
            return CommandAnswers.NotLive(state);
        }

        if (state.Show.Rig.Find(new PadId(pad)) is not var (_, found))
        {
            return Problems.NotFound("pad", $"There is no pad “{pad}”.", LiveAllowed);
        }

        var rig = state.Show.Rig;
        if (wish is { } wanted)
        {
            return await sounds.ProposeAsync(rig, found, wanted, cancel) is { } proposal
                ? TypedResults.Ok(DocumentOf(found.Id, proposal.Loudness, proposal.Gain, proposal.Missing, sounds.Voices(rig)))
                : Problems.Invalid("pad", $"For “{found.Name}” no gain can be proposed.", "a pad with some sound, that at least one listener hears");
        }

        return TypedResults.Ok(DocumentOf(found.Id, await sounds.LoudnessAsync(rig, found, cancel), found.Gain, 0, sounds.Voices(rig)));
    }

    private static async Task<Results<Ok<ShowDocument>, ProblemHttpResult>> LevelAsync(
        string set, PadLevels levels, LiveShow live, PadSounds sounds, JobRunner jobs, ShowCommands commands, [AsParameters] CommandCall call, CancellationToken cancel)
    {
        var rig = live.State.Show.Rig;
        if (rig.Find(new PadSetId(set)) is not { } found)
        {
            return Problems.NotFound("set", $"There is no pad set “{set}”.", "a set of the live show");
        }

        List<RigCommand> gains;
        try
        {
            gains = await jobs.RunAsync(Levelling, found.Name, GainsAsync, cancel);
        }
        catch (TooManyJobsException)
        {
            return Problems.Invalid("pads", "Too much waits to be measured.", "the same again in a moment");
        }
        catch (JobStoppedException)
        {
            return Problems.Invalid("pads", "Somebody stopped it while they were measured. Nothing was changed.", "the same again");
        }

        return gains.Count == 0
            ? Problems.Invalid("pads", "For none of these pads a gain can be proposed.", "pads with some sound, that at least one listener hears")
            : await commands.DoAsync(call, gains.Count == 1 ? gains[0] : new Several([.. gains]));

        async Task<List<RigCommand>> GainsAsync(IProgress<double> progress, CancellationToken stop)
        {
            var made = new List<RigCommand>();
            var pads = found.Pads.Where(p => levels.Pads is not { } some || some.Contains(p.Id)).ToList();
            for (var i = 0; i < pads.Count; i++)
            {
                progress.Report((double)i / pads.Count);
                if (await sounds.ProposeAsync(rig, pads[i], levels.Wish, stop) is { } proposal)
                {
                    made.Add(new SetPad(pads[i].Id, Gain: proposal.Gain));
                }
            }

            return made;
        }
    }

    private static PadLoudnessDocument DocumentOf(PadId pad, PadLoudness? loudness, Gain gain, double missing, ImmutableArray<VoicePlace> voices) => new(
        pad,
        loudness is { } some && double.IsFinite(some.Momentary) ? some.Momentary : null,
        loudness is { } heard && double.IsFinite(heard.Peak) ? heard.Peak : null,
        gain,
        missing,
        [.. (loudness?.Mixes ?? []).Select(m => (Place: m, Voice: voices.First(v => v.Mix == m.Mix))).Select(m => new PadBesideVoice(m.Place.Mix, m.Place.Lufs, m.Voice.Lufs, m.Voice.Source))]);

    internal static PadSoundDocument DocumentOf(Data.Rows.SoundRow row, string columns) =>
        new(row.Address, NameOf(row.FileName), (double)row.Frames / AudioFormat.SampleRate, row.PlayedChannels, columns);

    private static string NameOf(string fileName)
    {
        var name = Path.GetFileNameWithoutExtension(fileName).Trim();
        return Names.Cut(name.Length == 0 || RigRules.CheckName("", Names.Cut(name, RigLimits.NameLength)) is not null ? "Pad" : name, RigLimits.NameLength);
    }

    // Rounded up, so that nothing of its end is left out.
    private static double MillisecondsOf(long frames) => Math.Clamp(Math.Ceiling(frames * 1000.0 / AudioFormat.SampleRate), RigLimits.ShortestPad, RigLimits.LongestPad);
}
