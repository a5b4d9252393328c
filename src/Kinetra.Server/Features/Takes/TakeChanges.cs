using System.ComponentModel.DataAnnotations;
using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Data;
using Kinetra.Data.Rows;
using Kinetra.Server.Hosting;

namespace Kinetra.Server.Features.Takes;

/// <summary>A change of what is known of a take. What is left out stays as it is.</summary>
/// <param name="Name">1–60 characters.</param>
/// <param name="Notes">At most 4 000 characters; may be empty.</param>
/// <param name="From">Where what is kept of it begins, seconds of the take. Its files stay whole.</param>
/// <param name="To">Where that ends, after from; null leaves it as it is, the take's length is its end.</param>
public sealed record TakeChange(
    [property: Like(typeof(Source), "name")] string? Name = null, [property: MaxLength(TakeChanges.NotesLength)] string? Notes = null, [property: Range(0, TakeChanges.MostSeconds)] double? From = null,
    [property: Range(0, TakeChanges.MostSeconds)] double? To = null);

/// <summary>What can be changed of a take that has ended: what it is called, what is noted of it, what of it is kept, and whether it is there at all.</summary>
public sealed class TakeChanges(TakeStore store, TakeRecorder recorder, ITakeAudience audience, TimeProvider time)
{
    /// <summary>The most characters of what is noted of a take.</summary>
    public const int NotesLength = 4_000;

    /// <summary>Longer than any take, seconds.</summary>
    public const double MostSeconds = 1e9;

    /// <summary>For so long a take that was deleted can be brought back.</summary>
    public static readonly TimeSpan KeptFor = TimeSpan.FromDays(30);

    /// <summary>The takes that were deleted and can be brought back, the one that was deleted last first.</summary>
    public async Task<IEnumerable<TakeRow>> DeletedAsync(CancellationToken cancel) =>
        (await store.AllAsync(cancel)).Where(t => t.DeletedAt is not null).OrderByDescending(t => t.DeletedAt);

    /// <summary>Changes a take.</summary>
    /// <returns>The take, null: there is none; and what is wrong with the change, in which case nothing has changed.</returns>
    public async Task<(TakeRow? Take, RigProblem? Problem)> ChangeAsync(Guid id, TakeChange change, CancellationToken cancel)
    {
        if (change.Name is { } name && RigRules.CheckName("name", name) is { } wrong)
        {
            return (null, wrong);
        }

        var notes = change.Notes?.Trim().ReplaceLineEndings("\n");
        if (notes is { Length: > 0 } && RigRules.CheckText("notes", notes.Replace('\n', ' ').Replace('\t', ' '), NotesLength) is { } tooMuch)
        {
            return (null, tooMuch);
        }

        RigProblem? problem = null;
        var take = await ChangedAsync(
            id,
            t =>
            {
                var length = (double)t.Frames / AudioFormat.SampleRate;
                var (from, to) = (change.From is { } begin ? Frame(begin) : t.From, change.To is { } end ? Frame(end) : t.To ?? t.Frames);
                if (t.DeletedAt is not null)
                {
                    problem = new RigProblem("take", "It was deleted.", "a take that is brought back before");
                }
                else if (change.From is { } f && !(f >= 0 && f < length))
                {
                    problem = new RigProblem("from", $"A take of {length:0.###} s cannot begin at {f:0.###} s.", "0 s or more, before its end");
                }
                else if (change.To is { } e && !(e > 0 && e <= length + 0.001))
                {
                    problem = new RigProblem("to", $"A take of {length:0.###} s cannot end at {e:0.###} s.", "after its beginning, its length at most");
                }
                else if (from >= to)
                {
                    problem = new RigProblem(change.To is null ? "from" : "to", "Nothing would be left of it.", "an end after the beginning");
                }
                else
                {
                    t.Name = change.Name?.Trim() ?? t.Name;
                    t.Notes = notes ?? t.Notes;
                    (t.From, t.To) = (from, to >= t.Frames ? null : to);
                }

                return problem is null;
            },
            cancel);
        return (take, problem);
    }

    /// <summary>Deletes a take so that it can be brought back, or brings it back.</summary>
    /// <returns>The take; null: there is none.</returns>
    public Task<TakeRow?> SetDeletedAsync(Guid id, bool deleted, CancellationToken cancel) =>
        ChangedAsync(
            id,
            t =>
            {
                t.DeletedAt = deleted ? t.DeletedAt ?? time.GetUtcNow() : null;
                return true;
            },
            cancel);

    /// <summary>Deletes for good what was deleted: its files, and all that is known of it.</summary>
    /// <returns>False: there is no such take that was deleted.</returns>
    /// <exception cref="IOException">Its files cannot be deleted.</exception>
    public async Task<bool> ForgetAsync(Guid id, CancellationToken cancel)
    {
        if ((await store.AllAsync(cancel)).FirstOrDefault(t => t.Id == id && t.DeletedAt is not null) is not { } take)
        {
            return false;
        }

        await RemoveAsync(take, cancel);
        audience.TakesChanged();
        return true;
    }

    /// <summary>Deletes for good what was deleted longer ago than it is kept.</summary>
    public async Task ForgetOldAsync(CancellationToken cancel)
    {
        var before = time.GetUtcNow() - KeptFor;
        foreach (var take in (await store.AllAsync(cancel)).Where(t => t.DeletedAt < before))
        {
            try
            {
                await RemoveAsync(take, cancel);
            }
            catch (Exception e) when (e is IOException or UnauthorizedAccessException)
            {
                // What cannot be deleted is tried again by the next start.
            }
        }
    }

    // First the files: a take whose files are gone is seen to be so; files that nothing knows of would only take room.
    private async Task RemoveAsync(TakeRow take, CancellationToken cancel)
    {
        if (Directory.Exists(recorder.FolderOf(take.Id)))
        {
            Directory.Delete(recorder.FolderOf(take.Id), recursive: true);
        }

        // Whatever is called so and is not this take's is nobody's here to delete.
        if (take.Copy is { } copy && TakeNote.IsOf(copy.Folder, take.Id))
        {
            Directory.Delete(copy.Folder, recursive: true);
        }

        await store.ForgetAsync(take.Id, cancel);
    }

    private async Task<TakeRow?> ChangedAsync(Guid id, Func<TakeRow, bool> change, CancellationToken cancel)
    {
        var changed = false;
        var take = await store.ChangeAsync(id, t => changed = change(t), cancel);
        if (take is not null && changed)
        {
            TakeNote.TryWrite(recorder.FolderOf(id), take);
            audience.TakesChanged();
        }

        return take;
    }

    private static long Frame(double seconds) => (long)Math.Round(Math.Clamp(seconds, -1, MostSeconds) * AudioFormat.SampleRate);
}
