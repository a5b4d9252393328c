using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.Globalization;
using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Core.Takes;
using Kinetra.Data;
using Kinetra.Data.Rows;
using Kinetra.Media;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Kinetra.Server.Outputs;
using Microsoft.EntityFrameworkCore;

namespace Kinetra.Server.Features.Takes;

/// <summary>Hears of takes that begin and end.</summary>
public interface ITakeAudience
{
    /// <summary>The list of takes has changed.</summary>
    void TakesChanged();
}

/// <summary>A take that would have no track.</summary>
public sealed class NothingToRecordException(string message) : Exception(message);

/// <summary>
/// Records a take: the tracks that the live show plans, or else every mix and every source, each in a file of its own, all from the same frame to
/// the same frame. Reads the engine's rings; the engine does not know that it exists.
/// </summary>
public sealed partial class TakeRecorder(
    ServerOptions options, TakeStore store, SecondFolder second, ITakeAudience audience, OutputList outputs, Absences absences, TimeProvider time, ILogger<TakeRecorder> log) : IFollower, IDisposable
{
    private const string DiskFull = "The disk took no more: it is full, or the data folder may not grow. All that was written before is kept.";
    private const string Broken = "Something went wrong while it was being written. All that was written before is kept.";
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(2);
    private readonly Lock _writing = new();
    private readonly SemaphoreSlim _changing = new(1);
    private readonly ConcurrentDictionary<Guid, TakeRow> _waiting = new();
    private Running? _running;

    /// <summary>The take that is being recorded, or null.</summary>
    public Guid? Current => Volatile.Read(ref _running)?.Row.Id;

    /// <summary>What lay among the takes at the start and is none.</summary>
    public IReadOnlyList<DamagedTake> Damaged { get; private set; } = [];

    /// <summary>Frames recorded so far; 0 where nothing is being recorded.</summary>
    public long FramesSoFar(long now) => Volatile.Read(ref _running) is { } running ? running.FrameAt(now) : 0;

    /// <summary>True while the take that is being recorded is paused.</summary>
    public bool IsPaused => Volatile.Read(ref _running) is { PausedAt: not null };

    /// <summary>Pauses the take that is being recorded at the next block, or lets it go on: what is between is left out of all tracks, at the same sample.</summary>
    /// <returns>False: no take is being recorded.</returns>
    public bool Pause(bool on)
    {
        lock (_writing)
        {
            if (_running is not { Failed: false } running)
            {
                return false;
            }

            var now = running.Now;
            if (on && running.PausedAt is null)
            {
                running.PausedAt = now;
                foreach (var track in running.Tracks)
                {
                    track.Pause(now);
                }
            }
            else if (!on && running.PausedAt is { } paused)
            {
                var mark = running.FrameAt(now);
                running.PausedAt = null;
                running.LeftOut += now - paused;
                foreach (var track in running.Tracks)
                {
                    track.GoOn(now);
                }

                Add(running, new TakeMark(mark, string.Create(CultureInfo.InvariantCulture, $"Went on after a pause of {(now - paused) / (double)AudioFormat.SampleRate:0.0} s"), ByProgram: true));
            }
        }

        audience.TakesChanged();
        return true;
    }

    /// <summary>The most marks of a take, and the most of them that the program sets by itself.</summary>
    public const int MostMarks = 10_000, MostByProgram = 1_000;

    /// <summary>Marks a moment of the take that is being recorded.</summary>
    /// <param name="words">At most 60 characters; may be empty.</param>
    /// <param name="frame">The engine's frame; null: now.</param>
    /// <returns>The mark; null: no take is being recorded, or it has <see cref="MostMarks"/>.</returns>
    public TakeMark? Mark(string words, long? frame = null) => Mark(new TakeMark(0, words), frame);

    /// <summary>Marks that something happened now that a person should look at, if a take is being recorded.</summary>
    /// <param name="words">What; cut to what a mark holds. Said again within a second, or more than <see cref="MostByProgram"/> times, it is not marked.</param>
    public void MarkByItself(string words) => Mark(new TakeMark(0, Names.Cut(words, RigLimits.NameLength), ByProgram: true), null);

    private TakeMark? Mark(TakeMark wanted, long? frame)
    {
        lock (_writing)
        {
            if (_running is not { Failed: false } running || Add(running, wanted with { Frame = running.FrameAt(frame ?? running.Now) }) is not { } mark)
            {
                return null;
            }

            wanted = mark;
        }

        audience.TakesChanged();
        return wanted;
    }

    // The caller has the lock.
    private static TakeMark? Add(Running running, TakeMark mark)
    {
        var marks = running.Row.Marks;
        if (marks.Count >= MostMarks
            || (mark.ByProgram && (marks.Count(m => m.ByProgram) >= MostByProgram || marks.Exists(m => m.Words == mark.Words && Math.Abs(m.Frame - mark.Frame) < AudioFormat.SampleRate))))
        {
            return null;
        }

        marks.Insert(marks.FindLastIndex(m => m.Frame <= mark.Frame) + 1, mark);
        running.HasNewMark = true;
        return mark;
    }

    /// <summary>What is kept of the take that is being recorded only once it ends.</summary>
    /// <param name="take">A take.</param>
    /// <returns>Its marks, in order, and what became of its second folder until now; null: it is not being recorded.</returns>
    public (IReadOnlyList<TakeMark> Marks, TakeCopy? Copy)? SoFar(Guid take)
    {
        lock (_writing)
        {
            return _running is { Row: var row } && row.Id == take ? ([.. row.Marks], row.Copy) : null;
        }
    }

    /// <summary>Begins a take with the next block.</summary>
    /// <param name="show">What is recorded.</param>
    /// <param name="plan">What the engine has been told to play of it. Until it does, which a fade may hold up, its tracks are silent.</param>
    /// <param name="engine">The engine.</param>
    /// <param name="name">What the take is called; null: by the show and the time.</param>
    /// <param name="before">How many frames from before now it has, where so much of every track is kept.</param>
    /// <param name="cancel">Gives up before it has begun.</param>
    /// <returns>The take, or null where one is being recorded already.</returns>
    /// <exception cref="IOException">The files cannot be made.</exception>
    /// <exception cref="NothingToRecordException">There is nothing to record.</exception>
    public async Task<TakeRow?> StartAsync(StoredShow show, EnginePlan plan, MixEngine engine, string? name, long before, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(show);
        ArgumentNullException.ThrowIfNull(plan);
        ArgumentNullException.ThrowIfNull(engine);
        await _changing.WaitAsync(cancel);
        try
        {
            if (_running is not null)
            {
                return null;
            }

            var planned = TakePlan.Of(show.Rig, plan.ChannelsOf);
            if (planned.Tracks.IsEmpty)
            {
                throw new NothingToRecordException(planned.Sentence);
            }

            // What looks ahead is late: the others begin so much earlier, and all tracks share one zero.
            var pressed = engine.Frame;
            HeldTap[] taps = [.. planned.Tracks.Select(t => before > 0 ? engine.HoldLongest(t.Takes) : engine.Hold(t.Takes))];
            var start = Beginning(taps, pressed, before);
            var now = time.GetLocalNow() - TimeSpan.FromSeconds((double)(pressed - start) / AudioFormat.SampleRate);
            var row = new TakeRow
            {
                Id = Guid.CreateVersion7(),
                ShowId = show.Id,
                Name = name ?? $"{Names.Cut(show.Name, 40)} {now.ToString("yyyy-MM-dd HH.mm.ss", CultureInfo.InvariantCulture)}",
                StartedAt = now.ToUniversalTime(),
                State = TakeState.Recording,
            };
            row.Tracks =
            [
                .. planned.Tracks.Select((t, i) => new TrackRow
                {
                    Id = Guid.CreateVersion7(),
                    Ordinal = i + 1,
                    Name = t.Name,
                    IsMix = t.Takes is MixPoint,
                    IsVoice = t.Takes is SourcePoint source && show.Rig.Find(source.Id) is { Kind: SourceKind.Microphone or SourceKind.Call },
                    Point = t.Takes.ToString(),
                    Channels = t.Channels,
                    Form = t.Form.ToString(),
                    FileName = t.FileName,
                }),
            ];
            row.Copy = second.Path is { } other ? new TakeCopy(Path.Combine(other, $"{TakeNames.SafeName(row.Name)} {row.Id.ToString("n")[^8..]}")) : null;
            var tracks = OpenFiles(row, planned, taps, engine, start, now);
            try
            {
                TakeNote.Write(FolderOf(row.Id), row);
                NoteInCopy(row, TakeNote.Text(row, []));
                await SaveAsync(row);
            }
            catch
            {
                Close(tracks);
                Directory.Delete(FolderOf(row.Id), recursive: true);
                if (row.Copy is { Words: null } unused)
                {
                    Directory.Delete(unused.Folder, recursive: true);
                }

                throw;
            }

            lock (_writing)
            {
                Volatile.Write(ref _running, new Running(row, tracks, start, engine));
                foreach (var track in tracks)
                {
                    track.Enter(outputs);
                }

                if (row.Copy is { Words: { } words })
                {
                    Add(_running!, new TakeMark(0, Names.Cut(words, RigLimits.NameLength), ByProgram: true));
                }

                if (start < pressed)
                {
                    Add(_running!, new TakeMark(pressed - start, "Record was pressed; what is before it was kept", ByProgram: true));
                }
            }

            audience.TakesChanged();
            return row;
        }
        finally
        {
            _changing.Release();
        }
    }

    /// <summary>A take has ended, and all of its files are closed.</summary>
    public event Action<TakeRow>? Ended;

    /// <summary>Ends the take at the last block that is there.</summary>
    /// <returns>The take, or null where none is being recorded.</returns>
    public Task<TakeRow?> StopAsync(CancellationToken cancel) => EndAsync(TakeState.Done, null, cancel);

    /// <summary>The server stops: a take that is being recorded is kept up to here.</summary>
    public Task InterruptAsync(CancellationToken cancel) =>
        EndAsync(TakeState.Interrupted, "The server was stopped while it was being recorded.", cancel);

    /// <inheritdoc/>
    public void CatchUp()
    {
        var isNews = false;
        try
        {
            CatchUp(ref isNews);
        }
        finally
        {
            if (isNews)
            {
                audience.TakesChanged();
            }
        }
    }

    private void CatchUp(ref bool isNews)
    {
        lock (_writing)
        {
            if (_running is not { Failed: false } running)
            {
                return;
            }

            TakeMark ByItself(string words) => new(running.FrameAt(running.Now), Names.Cut(words, RigLimits.NameLength), ByProgram: true);

            try
            {
                var end = running.End;
                isNews = running.TakeHush() is { } hushed && Add(running, ByItself(hushed ? "Hushed" : "Heard again")) is not null;
                foreach (var track in running.Tracks)
                {
                    if (track.Mark(absences.WhyAway(track.Point)) is { } why)
                    {
                        isNews |= Add(running, ByItself(why)) is not null;
                    }

                    track.Give(() => track.CatchUp(end));
                }

                isNews |= LeaveFull(running);

                // Whenever the server ends, what the files do not tell is known up to here; while a slow disk still writes one note, news wait for the next.
                if (running.Noted.IsCompleted && running.Tracks.Aggregate(running.HasNewMark, (isNews, t) => t.TakeNews() || isNews))
                {
                    running.HasNewMark = false;
                    var (folder, text) = (FolderOf(running.Row.Id), TakeNote.Text(running.Row, running.Tracks.Select(t => t.Open)));
                    running.Noted = Task.Run(() =>
                    {
                        TakeNote.TryWrite(folder, text);
                        NoteInCopy(running.Row, text);
                    });
                }
            }
            catch (Exception e) when (e is not OutOfMemoryException)
            {
                // Nobody foresaw it: better an end that is told than a take that seems to go on.
                running.Failed = true;
                LogBroken(log, e);
                _ = Task.Run(() => EndAsync(TakeState.Interrupted, Broken, CancellationToken.None));
                return;
            }

            // One file that takes no more ends the take: all of it ends together.
            if (!running.Tracks.Any(t => t.State == OutputState.Ended))
            {
                return;
            }

            running.Failed = true;
            LogFailed(log, running.Tracks.First(t => t.State == OutputState.Ended).Document.Words ?? "");
        }

        _ = Task.Run(() => EndAsync(TakeState.Interrupted, DiskFull, CancellationToken.None));
    }

    /// <summary>
    /// After a start: what lies in the data folder counts. Takes that were cut off are interrupted ones, and takes that the
    /// database does not know as they are, since it was away, are stored.
    /// </summary>
    public async Task RecoverAsync(CancellationToken cancel)
    {
        var known = (await store.AllAsync(cancel)).ToDictionary(t => t.Id);
        var (found, damaged) = TakeNote.ReadAll(Path.Combine(options.DataFolder, "takes"));
        Damaged = damaged;
        foreach (var folder in damaged)
        {
            LogDamaged(log, folder.Folder, folder.Words);
        }

        var takes = found.ToDictionary(t => t.Id);
        foreach (var stored in known.Values)
        {
            takes.TryAdd(stored.Id, stored);
        }

        foreach (var take in takes.Values)
        {
            var was = known.GetValueOrDefault(take.Id)?.State;
            if (take.State == TakeState.Recording && was is not (null or TakeState.Recording))
            {
                // It ended well, and its full disk took no note of that.
                TakeNote.TryWrite(FolderOf(take.Id), known[take.Id]);
                continue;
            }

            if (take.State == TakeState.Recording)
            {
                take.State = TakeState.Interrupted;
                take.EndedBecause = "The server ended while it was being recorded.";
                take.Frames = LengthIn(FolderOf(take.Id), take);
                if (take.Copy is { } copy && LengthIn(copy.Folder, take) is var there && there > take.Frames + AudioFormat.SampleRate)
                {
                    take.Copy = copy with { IsUsed = true, Words = "The take’s own folder has less of it: this one counts." };
                    take.Frames = there;
                }

                TakeNote.EndGaps(take);
                TakeNote.TryWrite(FolderOf(take.Id), take);
            }

            if (was != take.State)
            {
                await RecoverAsync(take, cancel);
            }
        }
    }

    /// <summary>Stores the takes that could not be stored while the database was away.</summary>
    public async Task SaveWaitingAsync(CancellationToken cancel)
    {
        if (_waiting.IsEmpty)
        {
            return;
        }

        await _changing.WaitAsync(cancel);
        try
        {
            foreach (var (id, row) in _waiting)
            {
                await store.SaveAsync(row, cancel);
                _waiting.TryRemove(id, out _);
            }
        }
        catch (Exception e) when (DatabaseFaults.IsAway(e))
        {
            return;
        }
        finally
        {
            _changing.Release();
        }

        audience.TakesChanged();
    }

    /// <summary>A take's own folder, where what is known of it is written.</summary>
    public string FolderOf(Guid take) => Path.Combine(options.DataFolder, "takes", take.ToString());

    /// <summary>Where a take's files lie: in its own folder, or in the second one where its own took no more.</summary>
    public string FolderOf(TakeRow take)
    {
        ArgumentNullException.ThrowIfNull(take);
        return take.Copy is { IsUsed: true } copy ? copy.Folder : FolderOf(take.Id);
    }

    /// <summary>Where a track's file lies.</summary>
    public string PathOf(TakeRow take, TrackRow track)
    {
        ArgumentNullException.ThrowIfNull(track);
        return Path.Combine(FolderOf(take), track.FileName);
    }

    /// <inheritdoc/>
    public void Dispose() => _changing.Dispose();

    private ImmutableArray<TakeTrack> OpenFiles(TakeRow row, TakePlan planned, HeldTap[] taps, MixEngine engine, long start, DateTimeOffset now)
    {
        var slowest = taps.Select(t => t.Tapped.LatencyAt(start)).Append(0).Max();
        try
        {
            var own = OpenFolder(FolderOf(row.Id), row, planned, now);
            var copies = OpenCopy(row, planned, now);
            return [.. row.Tracks.Select((track, i) => new TakeTrack(track, taps[i], start, slowest, copies.IsEmpty ? [own[i]] : [own[i], copies[i]], engine, time))];
        }
        catch
        {
            foreach (var tap in taps)
            {
                tap.Dispose();
            }

            throw;
        }
    }

    // Nobody goes without a take since its copy cannot be made: that is told.
    private ImmutableArray<TrackFile> OpenCopy(TakeRow row, TakePlan planned, DateTimeOffset now)
    {
        if (row.Copy is not { } copy)
        {
            return [];
        }

        try
        {
            // Of a disk that is not there the folder would be made on this one.
            return Directory.Exists(Path.GetDirectoryName(copy.Folder)) ? OpenFolder(copy.Folder, row, planned, now) : throw new IOException("The folder is not there.");
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            LogNoCopy(log, copy.Folder, e.Message);
            row.Copy = copy with { Words = "Nothing could be written to the second folder: there is no copy." };
            return [];
        }
    }

    private static ImmutableArray<TrackFile> OpenFolder(string folder, TakeRow row, TakePlan planned, DateTimeOffset now)
    {
        var files = ImmutableArray.CreateBuilder<TrackFile>();
        try
        {
            SecondFolder.Make(folder);
            foreach (var (track, form) in row.Tracks.Zip(planned.Tracks.Select(t => t.Form)))
            {
                var path = Path.Combine(folder, track.FileName);
                files.Add(new TrackFile(path, new TakeFileWriter(path, track.Channels, new TakeFileInfo($"{row.Name} – {track.Name}", now), form)));
            }

            return files.ToImmutable();
        }
        catch
        {
            foreach (var file in files)
            {
                file.Dispose();
            }

            throw;
        }
    }

    // Where one of two folders takes no more, all tracks leave it together, and the take goes on in the other. The caller has the lock.
    private bool LeaveFull(Running running)
    {
        for (var folder = 0; folder < 2; folder++)
        {
            if (running.Row.Copy is not { Words: null } copy || !running.Tracks.Any(t => t.HasLeft(folder)))
            {
                continue;
            }

            foreach (var track in running.Tracks)
            {
                track.Leave(folder);
            }

            var at = running.FrameAt(running.Now);
            var when = TimeSpan.FromSeconds((double)at / AudioFormat.SampleRate).ToString(@"h\:mm\:ss", CultureInfo.InvariantCulture);
            running.Row.Copy = folder == 0
                ? copy with { IsUsed = true, Words = $"The take’s own folder took no more at {when}: all of the take is in the second one." }
                : copy with { Words = $"The second folder took no more at {when}: what is there ends then." };
            LogLeft(log, running.Row.Copy.Words!);
            running.HasNewMark = true;
            return Add(running, new TakeMark(at, folder == 0 ? "The take’s own folder takes no more; the second goes on" : "The second folder takes no more; the take goes on", ByProgram: true)) is not null;
        }

        return false;
    }

    // Where a copy is whole, or is the take.
    private IEnumerable<string> WholeFolders(TakeRow row)
    {
        if (row.Copy is not { IsUsed: true })
        {
            yield return FolderOf(row.Id);
        }

        if (row.Copy is { } copy && (copy.IsUsed || copy.Words is null))
        {
            yield return copy.Folder;
        }
    }

    private static void NoteInCopy(TakeRow row, byte[] text)
    {
        if (row.Copy is { } copy && (copy.IsUsed || copy.Words is null))
        {
            TakeNote.TryWrite(copy.Folder, text);
        }
    }

    // As far back as is wished, and as every track has something to give.
    private static long Beginning(HeldTap[] taps, long now, long before)
    {
        if (before == 0)
        {
            return now;
        }

        var start = Math.Max(0, now - before);
        foreach (var tap in taps)
        {
            start = Math.Max(start, tap.Ring.Beginning >= 0 ? tap.Ring.Beginning : now);
        }

        // What is less late begins earlier by as much as the latest is late.
        var slowest = taps.Select(t => t.Tapped.LatencyAt(start)).Append(0).Max();
        return Math.Min(now, start + slowest);
    }

    private async Task<TakeRow?> EndAsync(TakeState state, string? because, CancellationToken cancel)
    {
        await _changing.WaitAsync(cancel);
        try
        {
            Running? running;
            lock (_writing)
            {
                running = _running;
                if (running is null)
                {
                    return null;
                }

                (state, because) = Finish(running, state, because);
                Volatile.Write(ref _running, null);
            }

            var row = running.Row;
            row.State = state;
            row.EndedBecause = because;
            row.Frames = running.Tracks.Select(t => t.Frames).DefaultIfEmpty(0).Max();
            await running.Noted;
            MarkFiles(row);
            TakeNote.TryWrite(FolderOf(row.Id), row);
            NoteInCopy(row, TakeNote.Text(row, []));
            await SaveAsync(row);
            audience.TakesChanged();
            Ended?.Invoke(row);
            return row;
        }
        finally
        {
            _changing.Release();
        }
    }

    // The marks stand in the files too, for programs that show them there.
    private void MarkFiles(TakeRow row)
    {
        var marks = TakeTimeLine.WavMarksOf(row, TakeParts.Kept(row.Frames, 0, null));
        foreach (var path in WholeFolders(row).SelectMany(f => row.Tracks.Select(t => Path.Combine(f, t.FileName))).Where(p => marks.Count > 0 && Path.GetExtension(p) == ".wav"))
        {
            try
            {
                WavMarks.Append(path, marks);
            }
            catch (Exception e) when (e is IOException or UnauthorizedAccessException)
            {
                // A full disk: the file is as good without, and the marks are known beside it.
            }
        }
    }

    private (TakeState State, string? Because) Finish(Running running, TakeState state, string? because)
    {
        try
        {
            if (!running.Failed)
            {
                // As far as any track is, so that all end together.
                var end = Math.Max(running.End, running.Tracks.Select(t => t.At).Append(0).Max());
                foreach (var track in running.Tracks)
                {
                    track.Finish(end);
                }

                LeaveFull(running);
            }
        }
        catch (IOException)
        {
            (state, because) = (TakeState.Interrupted, DiskFull);
        }
        finally
        {
            Close(running.Tracks);
        }

        foreach (var folder in WholeFolders(running.Row))
        {
            try
            {
                TakePrints.Write(folder, [.. running.Tracks.Select(t => t.Prints)]);
            }
            catch (Exception e) when (e is IOException or UnauthorizedAccessException)
            {
                // The sound counts; what it can be held against is missed when the take is judged.
            }
        }

        return (state, because);
    }

    private async Task RecoverAsync(TakeRow take, CancellationToken cancel)
    {
        try
        {
            await store.SaveAsync(take, cancel);
        }
        catch (DbUpdateException e) when (!DatabaseFaults.IsAway(e))
        {
            // Of a show that this database does not have, mostly: its files stay where they are.
            LogForeign(log, take.Name, FolderOf(take.Id));
            Damaged = [.. Damaged, new(take.Id.ToString(), $"The take “{take.Name}” is of a show that is not stored here. Its files can be taken from there.")];
        }
    }

    // The note in the take's folder is durable already; the database only has to know of it in time.
    private async Task SaveAsync(TakeRow row)
    {
        try
        {
            using var patience = new CancellationTokenSource(Patience);
            await store.SaveAsync(row, patience.Token);
            _waiting.TryRemove(row.Id, out _);
        }
        catch (Exception e) when (DatabaseFaults.IsAway(e))
        {
            _waiting[row.Id] = row;
        }
    }

    private static void Close(ImmutableArray<TakeTrack> tracks)
    {
        foreach (var track in tracks)
        {
            track.Dispose();
        }
    }

    private static long LengthIn(string folder, TakeRow take) => take.Tracks.Select(t => LengthOf(Path.Combine(folder, t.FileName))).DefaultIfEmpty(0).Max();

    private static long LengthOf(string path)
    {
        try
        {
            return SoundFileReader.Length(path);
        }
        catch (SoundFileException)
        {
            return 0;
        }
    }

    [LoggerMessage(LogLevel.Warning, "The take {Name} is of a show that is not stored, and is not listed. It lies in {Folder}.")]
    private static partial void LogForeign(ILogger log, string name, string folder);

    [LoggerMessage(LogLevel.Warning, "The folder takes/{Folder} is no take that can be listed. {Reason}")]
    private static partial void LogDamaged(ILogger log, string folder, string reason);

    [LoggerMessage(LogLevel.Error, "The take ends, since writing it failed.")]
    private static partial void LogBroken(ILogger log, Exception cause);

    [LoggerMessage(LogLevel.Warning, "{Reason}")]
    private static partial void LogLeft(ILogger log, string reason);

    [LoggerMessage(LogLevel.Warning, "The take has no copy in {Folder}: {Reason}")]
    private static partial void LogNoCopy(ILogger log, string folder, string reason);

    [LoggerMessage(LogLevel.Error, "The take ends: {Reason}")]
    private static partial void LogFailed(ILogger log, string reason);

    private sealed class Running(TakeRow row, ImmutableArray<TakeTrack> tracks, long start, MixEngine engine)
    {
        public TakeRow Row => row;

        public ImmutableArray<TakeTrack> Tracks => tracks;

        public long Start => start;

        /// <summary>The last frame that all tracks can have now: what has come to look further ahead than anything did at the start is later.</summary>
        public long End => Math.Min(engine.Frame - tracks.Select(t => t.Behind).Append(0).Max(), PausedAt ?? long.MaxValue);

        /// <summary>The engine frame at which it was paused; null: it goes on. Any thread reads it.</summary>
        public long? PausedAt
        {
            get => Interlocked.Read(ref _pausedAt) is >= 0 and var at ? at : null;
            set => Interlocked.Exchange(ref _pausedAt, value ?? -1);
        }

        /// <summary>Frames that pauses have left out so far.</summary>
        public long LeftOut { get; set; }

        /// <summary>Which frame of the take an engine frame is.</summary>
        public long FrameAt(long frame) => Math.Max(0, Math.Min(frame, PausedAt ?? long.MaxValue) - start - LeftOut);

        /// <summary>The engine's next frame.</summary>
        public long Now => engine.Frame;

        private long _pausedAt = -1;
        private bool _isHushed = engine.Hushed;

        /// <summary>Whether every listener hears silence from now on; null: nothing has changed.</summary>
        public bool? TakeHush()
        {
            if (engine.Hushed == _isHushed)
            {
                return null;
            }

            _isHushed = !_isHushed;
            return _isHushed;
        }

        public bool Failed { get; set; }

        /// <summary>True: a mark is in no note yet.</summary>
        public bool HasNewMark { get; set; }

        /// <summary>The note that is being written.</summary>
        public Task Noted { get; set; } = Task.CompletedTask;
    }
}
