using System.Collections.Immutable;
using System.Security.Cryptography;
using System.Text;

namespace Kinetra.Server.Features.SecondScreen;

/// <summary>A device that was let in.</summary>
/// <param name="Id">What it is told apart by.</param>
/// <param name="Name">What it calls itself.</param>
/// <param name="Address">From where it came.</param>
/// <param name="Since">When it was let in.</param>
/// <param name="IsThere">Whether it is connected now.</param>
public sealed record ScreenDocument(Guid Id, string Name, string Address, DateTimeOffset Since, bool IsThere);

/// <summary>
/// Which devices were let in; each has a secret of its own, of which only the hash is kept, in memory: a restart asks all for the passphrase again. Who guesses has to wait. Any thread.
/// </summary>
public sealed class Screens(TimeProvider time)
{
    /// <summary>The most devices at one time.</summary>
    public const int Most = 16;

    /// <summary>How many wrong passphrases there may be within a minute, from all devices together.</summary>
    public const int WrongPerMinute = 5;

    private readonly Lock _changing = new();
    private readonly List<Screen> _screens = [];
    private readonly Queue<DateTimeOffset> _wrong = [];

    /// <summary>All that were let in, the newest first.</summary>
    public ImmutableArray<ScreenDocument> All
    {
        get
        {
            lock (_changing)
            {
                return [.. _screens.Select(s => new ScreenDocument(s.Id, s.Name, s.Address, s.Since, s.Open > 0)).Reverse()];
            }
        }
    }

    /// <summary>For how long nobody may try; null: one may.</summary>
    public TimeSpan? WaitsFor
    {
        get
        {
            lock (_changing)
            {
                var now = time.GetUtcNow();
                while (_wrong.TryPeek(out var at) && now - at > TimeSpan.FromMinutes(1))
                {
                    _wrong.Dequeue();
                }

                return _wrong.Count < WrongPerMinute ? null : _wrong.Peek().AddMinutes(1) - now;
            }
        }
    }

    /// <summary>Somebody gave a wrong passphrase.</summary>
    public void WasWrong()
    {
        lock (_changing)
        {
            _wrong.Enqueue(time.GetUtcNow());
        }
    }

    /// <summary>There is another passphrase: what was guessed of the one before is forgotten.</summary>
    public void Forgive()
    {
        lock (_changing)
        {
            _wrong.Clear();
        }
    }

    /// <summary>Lets a device in. Of too many, the one that was let in first and is not there goes.</summary>
    /// <returns>Its secret; null: there are too many that are there.</returns>
    public string? LetIn(string name, string address)
    {
        lock (_changing)
        {
            if (_screens.Count >= Most && !(_screens.Find(s => s.Open == 0) is { } idle && _screens.Remove(idle)))
            {
                return null;
            }

            var secret = Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(24));
            _screens.Add(new Screen(Guid.CreateVersion7(), name, address, time.GetUtcNow(), HashOf(secret)));
            return secret;
        }
    }

    /// <summary>The device that has a secret; null: none, or it was thrown out.</summary>
    public Guid? Find(string? secret)
    {
        if (secret is not { Length: > 0 and < 200 })
        {
            return null;
        }

        var hash = HashOf(secret);
        lock (_changing)
        {
            return _screens.Find(s => CryptographicOperations.FixedTimeEquals(s.Hash, hash))?.Id;
        }
    }

    /// <summary>A device's connection begins.</summary>
    /// <returns>What it is called, and what ends when it is thrown out; null: it was already.</returns>
    public (string Name, CancellationToken Out)? Connect(Guid id)
    {
        lock (_changing)
        {
            if (_screens.Find(s => s.Id == id) is not { } screen)
            {
                return null;
            }

            screen.Open++;
            return (screen.Name, screen.Out.Token);
        }
    }

    /// <summary>A connection has ended.</summary>
    public void Disconnect(Guid id)
    {
        lock (_changing)
        {
            if (_screens.Find(s => s.Id == id) is { } screen)
            {
                screen.Open--;
            }
        }
    }

    /// <summary>Throws a device out, at once; null: all.</summary>
    /// <returns>False: there is none such.</returns>
    public bool ThrowOut(Guid? id)
    {
        List<Screen> gone;
        lock (_changing)
        {
            gone = _screens.FindAll(s => id is null || s.Id == id);
            _screens.RemoveAll(gone.Contains);
        }

        gone.ForEach(s => s.Out.Cancel());
        return gone.Count > 0;
    }

    private static byte[] HashOf(string secret) => SHA256.HashData(Encoding.UTF8.GetBytes(secret));

    private sealed class Screen(Guid id, string name, string address, DateTimeOffset since, byte[] hash)
    {
        public Guid Id => id;

        public string Name => name;

        public string Address => address;

        public DateTimeOffset Since => since;

        public byte[] Hash => hash;

        // Disposed by nobody: connections that end hear it.
        public CancellationTokenSource Out { get; } = new();

        public int Open { get; set; }
    }
}
