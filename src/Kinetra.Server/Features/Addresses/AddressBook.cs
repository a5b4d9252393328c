using System.Buffers.Text;
using System.Collections.Immutable;
using System.Security.Cryptography;
using Kinetra.Core.Signal;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.Addresses;

/// <summary>An address under which other programs of this computer get at a point of a show.</summary>
/// <param name="Key">What nobody guesses: 22 characters.</param>
/// <param name="Show">The show.</param>
/// <param name="Point">A mix or a cable of it, as text.</param>
/// <param name="Since">When it was opened.</param>
public sealed record Address(string Key, Guid Show, string Point, DateTimeOffset Since);

/// <summary>
/// The addresses that somebody has opened. They are this computer's, and no part of the show: with a show file no key leaves. They outlive a
/// restart, so that a program that was given one finds it again. Any thread.
/// </summary>
public sealed class AddressBook(ServerOptions options, LiveShow live, TimeProvider time, ILogger<AddressBook> log)
{
    /// <summary>The most that there are.</summary>
    public const int Most = 64;

    private const int KeyBytes = 16;

    private readonly KeptNote<Note> _note = new(Path.Combine(options.DataFolder, "addresses.json"), new Note([]), log, "What addresses are open", Fit);

    /// <summary>All of them, oldest first.</summary>
    public ImmutableArray<Address> All => _note.Now.Open;

    /// <summary>Those of the live show.</summary>
    public IEnumerable<Address> OfLive => All.Where(a => a.Show == live.Show.Id);

    /// <summary>Opens one; where there is one for that point already, it is that.</summary>
    /// <param name="point">A mix or a cable of the live show.</param>
    /// <returns>Null: there are as many as there may be.</returns>
    public Address? Open(Point point)
    {
        ArgumentNullException.ThrowIfNull(point);
        var (show, text) = (live.Show.Id, point.ToString());
        _note.Change(note => note.Open.Any(a => a.Show == show && a.Point == text) || note.Open.Length >= Most
            ? note
            : new Note(note.Open.Add(new Address(Base64Url.EncodeToString(RandomNumberGenerator.GetBytes(KeyBytes)), show, text, time.GetUtcNow()))));
        return All.FirstOrDefault(a => a.Show == show && a.Point == text);
    }

    /// <summary>Closes one. False: there is none.</summary>
    public bool Close(string key)
    {
        var had = Find(key) is not null;
        _note.Change(note => new Note(note.Open.RemoveAll(a => a.Key == key)));
        return had;
    }

    /// <summary>The one of that key, or null.</summary>
    public Address? Find(string key) => All.FirstOrDefault(a => CryptographicOperations.FixedTimeEquals(
        System.Text.Encoding.UTF8.GetBytes(a.Key), System.Text.Encoding.UTF8.GetBytes(key)));

    // Whatever is not as this wrote it is left out.
    private static Note Fit(Note read) =>
        new(read.Open.IsDefault ? [] : [.. read.Open.Where(a => a is { Key.Length: > 0 } && Point.Parse(a.Point) is MixPoint or CablePoint).Take(Most)]);

    private sealed record Note(ImmutableArray<Address> Open);
}
