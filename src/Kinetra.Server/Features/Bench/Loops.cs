using System.Collections.Concurrent;
using System.Collections.Immutable;
using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Core.Voice;
using Kinetra.Data;
using Kinetra.Data.Rows;
using Kinetra.Media;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.Bench;

/// <summary>Hears when loops come, go or change.</summary>
public interface ILoopAudience
{
    /// <summary>The list of loops, or one of them, is another now.</summary>
    void LoopsChanged();
}

/// <summary>What is to go round beside a loop.</summary>
/// <param name="Who">Whose sound.</param>
/// <param name="Mix">The id of the mix whose levels it is heard with; null: those after their chains.</param>
/// <param name="Sound">What it is: as long as the loop.</param>
public sealed record NewBeside(ImmutableArray<SourceId> Who, string? Mix, SoundBeside Sound);

/// <summary>A loop as it is kept.</summary>
/// <param name="Row">What is stored of it.</param>
/// <param name="Variants">How it is treated.</param>
public sealed record KeptLoop(LoopRow Row, ImmutableArray<BenchVariant> Variants);

/// <summary>
/// The loops on the bench: their samples in files of the data folder, what else there is in the database, and those that somebody works on in memory. Any thread.
/// </summary>
public sealed partial class Loops(LoopStore store, ServerOptions options, Lazy<EngineHost> engine, ILoopAudience audience, TimeProvider time, ILogger<Loops> log) : IFollower, IDisposable
{
    /// <summary>The most loops of a show.</summary>
    public const int MostOfShow = 24;

    /// <summary>The most sources that go round beside a loop.</summary>
    public const int MostBeside = 8;

    // Who goes round beside a loop is summed as it is heard.
    private const int BesideChannels = 2;

    private readonly SemaphoreSlim _changing = new(1);
    private readonly Lock _opening = new();
    private readonly ConcurrentDictionary<Guid, KeptLoop> _kept = new();
    private readonly Dictionary<Guid, OpenLoop> _open = [];
    private readonly HashSet<(string Connection, Guid Loop, ProcessorId Processor, string Key)> _turns = [];

    /// <summary>Those of a show, the newest first.</summary>
    public async Task<IReadOnlyList<KeptLoop>> OfAsync(Guid show, CancellationToken cancel)
    {
        var kept = new List<KeptLoop>();
        foreach (var row in await store.OfAsync(show, cancel))
        {
            if (Read(row) is { } loop)
            {
                kept.Add(_kept.AddOrUpdate(row.Id, loop, (_, known) => known.Row.Revision >= row.Revision ? known : loop));
            }
        }

        return kept;
    }

    /// <summary>One of a show, or null.</summary>
    public async Task<KeptLoop?> FindAsync(Guid show, Guid id, CancellationToken cancel)
    {
        if (!_kept.TryGetValue(id, out var known))
        {
            known = await store.FindAsync(id, cancel) is { } row && Read(row) is { } read ? _kept.GetOrAdd(id, read) : null;
        }

        return known?.Row.ShowId == show ? known : null;
    }

    /// <summary>Keeps a stretch of a source's sound.</summary>
    /// <param name="show">The show.</param>
    /// <param name="source">The source.</param>
    /// <param name="name">1–60 characters.</param>
    /// <param name="sound">5–30 s.</param>
    /// <param name="variants">How it is treated at first.</param>
    /// <param name="beside">Who goes round beside it, as long as the loop that becomes of the sound; null: nobody.</param>
    /// <param name="cancel">Ends it.</param>
    public async Task<KeptLoop> AddAsync(
        Guid show, SourceId source, string name, SoundBuffer sound, ImmutableArray<BenchVariant> variants, NewBeside? beside, CancellationToken cancel)
    {
        var loop = LoopSound.Closed(sound);
        var row = new LoopRow
        {
            Id = Guid.CreateVersion7(),
            ShowId = show,
            Source = source.Value,
            Beside = beside is { Who: var who } ? string.Join(' ', who.Select(w => w.Value)) : null,
            Mix = beside?.Mix,
            Name = name,
            Channels = loop.Channels,
            Frames = loop.Frames,
            TakenAt = time.GetUtcNow(),
            Variants = StoredJson.Write(variants),
            Form = StoredJson.Version,
            Revision = 1,
        };
        Directory.CreateDirectory(Folder);
        try
        {
            await Task.Run(() => PlanarFile.Write(PathOf(row.Id), loop), cancel);
            if (beside is { Sound: var other })
            {
                await Task.Run(() => PlanarFile.Write(BesideOf(row.Id), other.Key), cancel);
                if (row.Mix is not null)
                {
                    await Task.Run(() => PlanarFile.Write(MixedOf(row.Id), other.Heard), cancel);
                }
            }

            await store.AddAsync(row, cancel);
        }
        catch
        {
            TryDelete(PathOf(row.Id));
            TryDelete(BesideOf(row.Id));
            TryDelete(MixedOf(row.Id));
            throw;
        }

        var kept = _kept[row.Id] = new KeptLoop(row, variants);
        audience.LoopsChanged();
        return kept;
    }

    /// <summary>Changes one, in turn with all other changes.</summary>
    /// <param name="show">Whose it is.</param>
    /// <param name="id">Which.</param>
    /// <param name="change">Its name and its variants as they are to be.</param>
    /// <param name="cancel">Ends it.</param>
    /// <returns>It as it is now; null: there is none.</returns>
    /// <exception cref="LoopRefusedException">It breaks a rule.</exception>
    public async Task<KeptLoop?> ChangeAsync(Guid show, Guid id, Func<KeptLoop, (string Name, ImmutableArray<BenchVariant> Variants)> change, CancellationToken cancel)
    {
        await _changing.WaitAsync(cancel);
        try
        {
            if (await FindAsync(show, id, cancel) is not { } before)
            {
                return null;
            }

            var (name, variants) = change(before);
            if (Check(name, variants) is { IsEmpty: false } problems)
            {
                throw new LoopRefusedException(problems);
            }

            var row = Copy(before.Row, name, variants);
            if (!await store.SaveAsync(row, cancel))
            {
                Forget(id);
                return null;
            }

            var after = _kept[id] = new KeptLoop(row, variants);
            lock (_opening)
            {
                _turns.RemoveWhere(t => t.Loop == id);
                _open.GetValueOrDefault(id)?.Set(variants);
            }

            audience.LoopsChanged();
            return after;
        }
        finally
        {
            _changing.Release();
        }
    }

    /// <summary>Removes one, and its sound.</summary>
    /// <returns>False: there is none.</returns>
    public async Task<bool> RemoveAsync(Guid show, Guid id, CancellationToken cancel)
    {
        if (await FindAsync(show, id, cancel) is null)
        {
            return false;
        }

        await store.RemoveAsync(id, cancel);
        Forget(id);
        audience.LoopsChanged();
        return true;
    }

    /// <summary>Opens one that is kept, as long as the handle is held: its bench can be heard and looked at. Null: there is none, or its sound cannot be read.</summary>
    public LoopHandle? Open(Guid id)
    {
        lock (_opening)
        {
            if (!_open.TryGetValue(id, out var open))
            {
                if (!_kept.TryGetValue(id, out var kept) || SoundOf(kept.Row) is not var (sound, beside))
                {
                    return null;
                }

                _open[id] = open = new OpenLoop(sound, kept.Variants, beside);
            }

            open.Holders++;
            return new LoopHandle(open, () => Close(id, open));
        }
    }

    /// <summary>True where a loop that was listed has a variant, or where that is the plain sound.</summary>
    public bool Has(Guid id, SourceId variant) => _kept.TryGetValue(id, out var loop) && (variant == LoopBench.Plain || loop.Variants.Any(v => v.Id == variant));

    /// <summary>The engine of a bench that runs and has what is looked for; null: none.</summary>
    public MixEngine? EngineWith(Func<EnginePlan, bool> has)
    {
        lock (_opening)
        {
            return _open.Values.Select(o => o.Running).FirstOrDefault(b => b is not null && has(b.Plan))?.Engine;
        }
    }

    /// <summary>Lets a processor of a loop that is open be heard with another value; null: as it is stored.</summary>
    /// <param name="connection">Whose window: with its connection, what it turns ends.</param>
    /// <param name="id">The loop.</param>
    /// <param name="processor">The processor.</param>
    /// <param name="key">The parameter.</param>
    /// <param name="value">Its value.</param>
    public void Turn(string connection, Guid id, ProcessorId processor, string key, double? value)
    {
        lock (_opening)
        {
            var turn = (connection, id, processor, key);
            if (value is null)
            {
                _turns.Remove(turn);
            }
            else if (_open.ContainsKey(id))
            {
                _turns.Add(turn);
            }

            _open.GetValueOrDefault(id)?.Running?.Turn(processor, key, value);
        }
    }

    /// <summary>A window is gone: nothing stays as it turned it.</summary>
    public void EndTurns(string connection)
    {
        lock (_opening)
        {
            foreach (var turn in _turns.Where(t => t.Connection == connection).ToList())
            {
                _turns.Remove(turn);
                _open.GetValueOrDefault(turn.Loop)?.Running?.Turn(turn.Processor, turn.Key, null);
            }
        }
    }

    /// <summary>What runs goes on with the show's time, also while nobody listens but somebody looks.</summary>
    public void CatchUp()
    {
        if (!engine.Value.IsRunning)
        {
            return;
        }

        LoopBench[] running;
        lock (_opening)
        {
            running = [.. _open.Values.Select(o => o.Running).OfType<LoopBench>()];
        }

        foreach (var bench in running)
        {
            bench.CatchUp(engine.Value.Engine.Frame);
        }
    }

    /// <summary>At the start: whoever looked or listened before it does so again at once.</summary>
    public async Task RecallAsync(CancellationToken cancel)
    {
        foreach (var row in await store.AllAsync(cancel))
        {
            if (Read(row) is { } loop)
            {
                _kept[row.Id] = loop;
            }
        }
    }

    /// <summary>At the start: what lies in the folder and no loop needs is removed.</summary>
    public async Task CollectAsync(CancellationToken cancel)
    {
        if (!Directory.Exists(Folder))
        {
            return;
        }

        var ids = (await store.AllAsync(cancel)).Select(l => l.Id).ToHashSet();
        foreach (var file in Directory.EnumerateFiles(Folder).Where(f => !Guid.TryParse(Path.GetFileNameWithoutExtension(f).Split('-')[0], out var id) || !ids.Contains(id)))
        {
            TryDelete(file);
        }
    }

    /// <inheritdoc/>
    public void Dispose() => _changing.Dispose();

    /// <summary>What the rules say against a loop's name and variants; their places are those of its document.</summary>
    public static ImmutableArray<RigProblem> Check(string name, ImmutableArray<BenchVariant> variants)
    {
        if (variants.Length > LoopBench.MostVariants)
        {
            return [new RigProblem("variants", "A loop has no more variants beside one another.", $"at most {LoopBench.MostVariants}")];
        }

        var rig = LoopBench.RigOf(variants);
        var others = rig.Sources.Length - variants.Length;
        var names = new[] { RigRules.CheckName("name", name) }.Concat(variants.Select((v, i) => RigRules.CheckName($"variants[{i}].name", v.Name))).OfType<RigProblem>();
        var chains = RigRules.Check(rig).Select(p => p with { Where = Where().Replace(p.Where, m => $"variants[{int.Parse(m.Groups[1].ValueSpan) - others}]") });
        return [.. names, .. chains];
    }

    [System.Text.RegularExpressions.GeneratedRegex(@"^sources\[(\d+)\]")]
    private static partial System.Text.RegularExpressions.Regex Where();

    private string Folder => Path.Combine(options.DataFolder, "loops");

    private string PathOf(Guid id) => Path.Combine(Folder, $"{id:n}.f32");

    private string BesideOf(Guid id) => Path.Combine(Folder, $"{id:n}-beside.f32");

    private string MixedOf(Guid id) => Path.Combine(Folder, $"{id:n}-mixed.f32");

    private static LoopRow Copy(LoopRow row, string name, ImmutableArray<BenchVariant> variants) => new()
    {
        Id = row.Id,
        ShowId = row.ShowId,
        Source = row.Source,
        Beside = row.Beside,
        Mix = row.Mix,
        Name = name,
        Channels = row.Channels,
        Frames = row.Frames,
        TakenAt = row.TakenAt,
        Variants = StoredJson.Write(variants),
        Form = StoredJson.Version,
        Revision = row.Revision + 1,
    };

    // One that a newer program wrote, or that is damaged, stays where it is, and is not listed.
    private KeptLoop? Read(LoopRow row)
    {
        try
        {
            var variants = StoredJson.Read<ImmutableArray<BenchVariant>>(row.Variants, row.Form, "A loop's variants");
            return Check(row.Name, variants).IsEmpty ? new KeptLoop(row, variants) : null;
        }
        catch (InvalidDataException e)
        {
            LogUnreadable(log, row.Id, e.Message);
            return null;
        }
    }

    private (SoundBuffer Sound, SoundBeside? Beside)? SoundOf(LoopRow row)
    {
        try
        {
            var sound = PlanarFile.Read(PathOf(row.Id), row.Channels);
            if (row.Beside is null)
            {
                return (sound, null);
            }

            var key = PlanarFile.Read(BesideOf(row.Id), BesideChannels);
            return (sound, new SoundBeside(key, row.Mix is null ? key : PlanarFile.Read(MixedOf(row.Id), BesideChannels)));
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or SoundFileException)
        {
            LogUnreadable(log, row.Id, e.Message);
            return null;
        }
    }

    private void Close(Guid id, OpenLoop open)
    {
        lock (_opening)
        {
            if (--open.Holders == 0)
            {
                open.Rest();
                _open.Remove(id);
            }
        }
    }

    private void Forget(Guid id)
    {
        _kept.TryRemove(id, out _);
        TryDelete(PathOf(id));
        TryDelete(BesideOf(id));
        TryDelete(MixedOf(id));
    }

    private static void TryDelete(string path)
    {
        try
        {
            File.Delete(path);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            // It only takes room, until the next start.
        }
    }

    [LoggerMessage(LogLevel.Error, "The loop {Loop} cannot be read: {Reason} It stays as it is.")]
    private static partial void LogUnreadable(ILogger log, Guid loop, string reason);
}

/// <summary>A loop that is held open until this is disposed of.</summary>
public sealed class LoopHandle(OpenLoop loop, Action close) : IDisposable
{
    private int _closed;

    /// <summary>The loop.</summary>
    public OpenLoop Loop => loop;

    /// <inheritdoc/>
    public void Dispose()
    {
        if (Interlocked.Exchange(ref _closed, 1) == 0)
        {
            close();
        }
    }
}

/// <summary>A change of a loop breaks rules.</summary>
public sealed class LoopRefusedException(ImmutableArray<RigProblem> problems) : Exception("The change breaks rules.")
{
    /// <summary>Which.</summary>
    public ImmutableArray<RigProblem> Problems { get; } = problems;
}
