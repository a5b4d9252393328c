using System.Collections.Immutable;
using System.IO.Compression;
using System.Text;
using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Media;
using Kinetra.Server.Features.Shows;
using Kinetra.Server.Features.Sounds;
using Kinetra.Server.Features.Sources;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Pads;

/// <summary>Pad sets out and in as one ZIP with their sounds (docs/pad-set.md).</summary>
sealed class PadSetFiles : IFeature
{
    // Its text and as many sounds as a set has pads.
    private const int MostEntries = RigLimits.PadsOfSet + 1;
    private const string Allowed = "a ZIP as docs/pad-set.md describes it";

    public void MapTo(IEndpointRouteBuilder routes)
    {
        var show = routes.MapGroup(ShowEndpoints.Path);
        show.MapGet("/pad-sets/{set}/file", WriteAsync).WithName("getPadSetFile").WithSummary("A set of pads as one ZIP, with its sounds.");
        show.MapPost("/pad-sets/file", ReadAsync).WithName("readPadSetFile").DisableAntiforgery().WithSummary("Adds a set of pads from a ZIP (multipart: file), as one step.");
    }

    private static async Task<Results<FileStreamHttpResult, ProblemHttpResult>> WriteAsync(
        Guid show, string set, LiveShow live, Data.SoundStore store, SoundLibrary library, ServerOptions options, CancellationToken cancel)
    {
        var state = live.State;
        if (state.Show.Id != show)
        {
            return CommandAnswers.NotLive(state);
        }

        if (state.Show.Rig.Find(new PadSetId(set)) is not { } found)
        {
            return Problems.NotFound("set", $"There is no pad set “{set}”.", "a set of the live show");
        }

        var files = new Dictionary<string, string>();
        foreach (var pad in found.Pads)
        {
            if (await store.FindAsync(pad.Sound, cancel) is not { } row || library.OpenFile(pad.Sound) is not { } there)
            {
                return Problems.Invalid("set", $"The sound of “{pad.Name}” is no longer in the data folder.", "a set whose sounds are all there");
            }

            await there.DisposeAsync();
            files[pad.Sound] = $"sounds/{pad.Sound[..16]}{EndingOf(row.FileName)}";
        }

        var text = new PadSetFile(found.Name, [.. found.Pads.Select(p => (p, files[p.Sound]))]).Write();

        // Packed on the disk first, and gone once it was sent: what fails on the way is told, and not half a file.
        var packed = new FileStream(
            Path.Combine(options.DataFolder, $"pad-set-{Guid.NewGuid():n}.part"), FileMode.CreateNew, FileAccess.ReadWrite, FileShare.None, 65_536, FileOptions.DeleteOnClose | FileOptions.Asynchronous);
        try
        {
            await PackAsync(packed, text, files, library, cancel);
            packed.Position = 0;
            return TypedResults.File(packed, "application/zip", FileNames.Of(found.Name, ".pads.zip"));
        }
        catch
        {
            await packed.DisposeAsync();
            throw;
        }
    }

    private static async Task PackAsync(Stream to, string text, Dictionary<string, string> files, SoundLibrary library, CancellationToken cancel)
    {
        await using var zip = await ZipArchive.CreateAsync(to, ZipArchiveMode.Create, leaveOpen: true, Encoding.UTF8, cancel);
        await using (var entry = await zip.CreateEntry(PadSetFile.EntryName).OpenAsync(cancel))
        {
            await entry.WriteAsync(Encoding.UTF8.GetBytes(text), cancel);
        }

        foreach (var (address, name) in files)
        {
            // Most are packed already.
            await using var entry = await zip.CreateEntry(name, CompressionLevel.NoCompression).OpenAsync(cancel);
            await using var sound = library.OpenFile(address) ?? throw new IOException("A sound has gone while it was packed.");
            await sound.CopyToAsync(entry, cancel);
        }
    }

    private static async Task<Results<Ok<ShowDocument>, ProblemHttpResult>> ReadAsync(
        IFormFile file, LiveShow live, SoundLibrary library, ServerOptions options, ShowCommands commands, [AsParameters] CommandCall call, CancellationToken cancel)
    {
        var state = live.State;
        if (state.Show.Id != call.Show)
        {
            return CommandAnswers.NotLive(state);
        }

        try
        {
            await using var content = file.OpenReadStream();
            using var zip = new ZipArchive(content, ZipArchiveMode.Read, leaveOpen: true, Encoding.UTF8);
            if (zip.Entries.Count > MostEntries)
            {
                return Problems.Invalid("file", $"There are {zip.Entries.Count} files in this ZIP.", $"at most {MostEntries}");
            }

            if (zip.GetEntry(PadSetFile.EntryName) is not { } entry || entry.Length > PadSetFile.MaxBytes)
            {
                return Problems.Invalid("file", $"There is no {PadSetFile.EntryName} in this ZIP, or it is too long.", Allowed);
            }

            var text = await TextAsync(entry, cancel);
            if (PadSetFile.Read(text, new SourceId("pads"), out var problems) is not { } set)
            {
                return Problems.Invalid(problems);
            }

            var (sounds, opened) = (new Dictionary<string, string>(StringComparer.Ordinal), new List<object?>());
            foreach (var (pad, name) in set.All.DistinctBy(p => p.File))
            {
                if (zip.GetEntry(name) is not { } sound || sound.Length > options.MaxUploadBytes)
                {
                    return Problems.Invalid("file", $"The sound “{Names.Cut(name, 100)}” of “{pad.Name}” is not in this ZIP, or too long.", Allowed);
                }

                await using var bytes = await sound.OpenAsync(cancel);
                var row = await library.TakeInAsync(bytes, Path.GetFileName(name), cancel);
                sounds[name] = row.Address;
                opened.Add(await library.OpenAsync(row.Address, cancel));
            }

            var answer = await commands.DoAsync(call, rig =>
            {
                var id = PadSetId.New();
                var added = new AddPadSet(new PadSet { Id = id, Name = FreeNames.For(rig.PadSets.Select(s => s.Name), set.Name, "Pads") });
                return set.All.IsEmpty
                    ? added
                    : new Several([added, PadEndpoints.New(rig, id, null, [.. set.All.Select(p => (Func<SourceId, int, Pad>)((source, _) => p.Pad with { Source = source, Sound = sounds[p.File] }))])]);
            });
            GC.KeepAlive(opened);
            return answer;
        }
        catch (Exception e) when (e is InvalidDataException or ArgumentOutOfRangeException)
        {
            // Of a file that is shorter than the end of any ZIP, the stream itself says that it cannot go there.
            return Problems.Invalid("file", "This is no ZIP, or a damaged one.", Allowed);
        }
        catch (SoundFileException refusal)
        {
            return Problems.Invalid("file", refusal.What, refusal.Allowed);
        }
    }

    // What it says of its length may be wrong.
    private static async Task<byte[]> TextAsync(ZipArchiveEntry entry, CancellationToken cancel)
    {
        await using var from = await entry.OpenAsync(cancel);
        var text = new byte[PadSetFile.MaxBytes + 1];
        var count = await from.ReadAtLeastAsync(text, text.Length, throwOnEndOfStream: false, cancel);
        return text[..count];
    }

    private static string EndingOf(string fileName)
    {
        var ending = Path.GetExtension(fileName).ToLowerInvariant();
        return ending.Length is > 1 and <= 6 && ending[1..].All(char.IsAsciiLetterOrDigit) ? ending : ".sound";
    }
}
