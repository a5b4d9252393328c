using System.Threading.Channels;

namespace Kinetra.Gear.Station;

/// <summary>What somebody sends to the station at one place.</summary>
/// <param name="Path">Where.</param>
/// <param name="MediaType">What it is.</param>
/// <param name="Name">What it is called; empty: it was not said.</param>
/// <param name="Description">What it is about.</param>
/// <param name="Song">What is heard now; null: it was not said.</param>
/// <param name="Way">How it came in: PUT, SOURCE or the password on the first line.</param>
/// <param name="Bytes">How many bytes came.</param>
/// <param name="Listeners">How many listen.</param>
/// <param name="Since">Since when.</param>
public sealed record MountDocument(string Path, string MediaType, string Name, string Description, string? Song, string Way, long Bytes, int Listeners, DateTimeOffset Since);

/// <summary>A place at which somebody sends and others listen. Any thread.</summary>
sealed class Mount(string path, string mediaType, string name, string description, string way, DateTimeOffset since)
{
    // One who is slower than that is let go: he would hear a past that nobody keeps.
    private const int MostWaiting = 256;

    private readonly Lock _passing = new();
    private readonly OggHead? _head = mediaType.Contains("ogg", StringComparison.OrdinalIgnoreCase) ? new() : null;
    private readonly List<Channel<byte[]>> _listeners = [];
    private byte[] _begun = [];
    private long _bytes;
    private string? _song;

    /// <summary>What it is.</summary>
    public string MediaType => mediaType;

    /// <summary>What it is called.</summary>
    public string Name => name;

    /// <summary>What is heard now; null: it was not said.</summary>
    public string? Song
    {
        get => Volatile.Read(ref _song);
        set => Volatile.Write(ref _song, value);
    }

    /// <summary>As it is now.</summary>
    public MountDocument Document
    {
        get
        {
            lock (_passing)
            {
                return new(path, mediaType, name, description, _song, way, _bytes, _listeners.Count, since);
            }
        }
    }

    /// <summary>Passes on what came.</summary>
    public void Pass(byte[] bytes)
    {
        lock (_passing)
        {
            _bytes += bytes.Length;
            foreach (var listener in _listeners.ToList())
            {
                if (!listener.Writer.TryWrite(bytes))
                {
                    listener.Writer.TryComplete();
                    _listeners.Remove(listener);
                }
            }

            if (_head is not null)
            {
                _head.Take(bytes);
                _begun = _head.Unfinished == 0 ? [] : [.. _begun.Concat(bytes).TakeLast(_head.Unfinished)];
            }
        }
    }

    /// <summary>Somebody begins to listen.</summary>
    public Channel<byte[]> Enter()
    {
        var listener = Channel.CreateBounded<byte[]>(MostWaiting);
        lock (_passing)
        {
            if (_head is not null)
            {
                // With the head, and the page that has begun: from there on all that comes is whole.
                listener.Writer.TryWrite([.. _head.Bytes, .. _begun]);
            }

            _listeners.Add(listener);
        }

        return listener;
    }

    /// <summary>Somebody listens no more.</summary>
    public void Leave(Channel<byte[]> listener)
    {
        lock (_passing)
        {
            _listeners.Remove(listener);
        }
    }

    /// <summary>Nothing more comes.</summary>
    public void End()
    {
        lock (_passing)
        {
            foreach (var listener in _listeners)
            {
                listener.Writer.TryComplete();
            }

            _listeners.Clear();
        }
    }
}
