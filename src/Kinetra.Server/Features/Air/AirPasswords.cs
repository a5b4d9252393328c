using System.Collections.Immutable;
using Kinetra.Core.Signal;
using Kinetra.Server.Hosting;
using Kinetra.Server.Hosting.Secrets;

namespace Kinetra.Server.Features.Air;

/// <summary>
/// The passwords of streams. They are this computer's and no part of the show: encrypted on disk, in no show file, no answer and no log. One of a
/// stream that was removed stays, so that undo has all of it. Any thread.
/// </summary>
public sealed class AirPasswords(ServerOptions options, SecretBox box, ILogger<AirPasswords> log)
{
    /// <summary>The most that are kept: of the oldest beyond that nothing is left.</summary>
    public const int Most = 200;

    private readonly KeptNote<Note> _note = new(Path.Combine(options.DataFolder, "streams.json"), new Note([]), log, "What passwords streams have", Fit);

    /// <summary>Whether there is one.</summary>
    public bool Has(Guid show, StreamId stream) => Find(show, stream) is not null;

    /// <summary>The password of a stream; null: none was given.</summary>
    /// <exception cref="SecretLostException">It was kept with keys that are not here.</exception>
    public Secret? Of(Guid show, StreamId stream) => Find(show, stream) is { } kept ? box.Open(kept.Closed) : null;

    /// <summary>Keeps one; null: none.</summary>
    public void Keep(Guid show, StreamId stream, Secret? password)
    {
        var closed = password is null ? null : box.Close(password);
        _note.Change(note =>
        {
            var others = note.Kept.RemoveAll(k => k.Show == show && k.Stream == stream.Value);
            return new Note(closed is null ? others : [.. others.TakeLast(Most - 1), new Kept(show, stream.Value, closed)]);
        });
    }

    private Kept? Find(Guid show, StreamId stream) => _note.Now.Kept.FirstOrDefault(k => k.Show == show && k.Stream == stream.Value);

    private static Note Fit(Note read) => new(read.Kept.IsDefault ? [] : [.. read.Kept.Where(k => k is { Stream: not null, Closed: not null })]);

    private sealed record Note(ImmutableArray<Kept> Kept);

    private sealed record Kept(Guid Show, string Stream, string Closed);
}
