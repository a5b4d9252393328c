using System.Runtime.InteropServices;
using Kinetra.Core.Engine;
using Microsoft.Win32.SafeHandles;

namespace Kinetra.Media;

/// <summary>
/// A sound that lies in a <see cref="PlanarFile"/> and is played from there: only its beginning and what its readers come to next are in
/// memory, the same for all of them. It is read, not mapped: a disk that fails makes a mapped page end the whole program, and here silence.
/// </summary>
public sealed class StreamedSound : IDisposable
{
    /// <summary>Frames that are read at once: 1.4 s.</summary>
    public const int ChunkFrames = 65_536;

    // What a reader is in, and the next two: more than a second of time for the disk.
    private const int ChunksAhead = 2;

    // Let go, and used again once the engine is sure to be done with it; more are left to the collector.
    private const int MostResting = 4;
    private const long RestsFor = 1000;

    // A sound that is started anew, or begins over, is there at once.
    private const int ChunksKept = 2;

    private readonly Lock _loading = new();
    private readonly List<WeakReference<Reader>> _readers = [];
    private readonly Queue<Chunk> _resting = [];
    private readonly SafeFileHandle _file;
    private readonly Chunk?[] _chunks;
    private long _missed;

    private StreamedSound(SafeFileHandle file, int channels, int frames)
    {
        _file = file;
        Channels = channels;
        Frames = frames;
        _chunks = new Chunk?[(frames + ChunkFrames - 1) / ChunkFrames];
    }

    /// <summary>1 or 2.</summary>
    public int Channels { get; }

    /// <summary>Length.</summary>
    public int Frames { get; }

    /// <summary>Frames that were silent since the disk was too slow, or failed.</summary>
    public long Missed => Interlocked.Read(ref _missed);

    /// <summary>Bytes of sound that are in memory now.</summary>
    public long BytesHeld
    {
        get
        {
            lock (_loading)
            {
                return (long)(_chunks.Count(c => c is not null) + _resting.Count) * Math.Min(ChunkFrames, Frames) * Channels * sizeof(float);
            }
        }
    }

    /// <summary>Opens a sound, and reads its beginning.</summary>
    /// <param name="path">A file that <see cref="PlanarFile.Write"/> made. It may be removed while it is played.</param>
    /// <param name="channels">1 or 2.</param>
    /// <exception cref="SoundFileException">The file's length does not fit.</exception>
    /// <exception cref="IOException">It is not there, or cannot be read.</exception>
    public static StreamedSound Open(string path, int channels)
    {
        var file = File.OpenHandle(path, share: FileShare.ReadWrite | FileShare.Delete, options: FileOptions.RandomAccess);
        try
        {
            var length = RandomAccess.GetLength(file);
            var frames = length / sizeof(float) / channels;
            if (frames is 0 or > int.MaxValue || frames * channels * sizeof(float) != length)
            {
                throw new SoundFileException($"The stored sound {Path.GetFileName(path)} is damaged.", "the file as it was stored");
            }

            var sound = new StreamedSound(file, channels, (int)frames);
            sound.ReadAhead();
            return sound;
        }
        catch
        {
            file.Dispose();
            throw;
        }
    }

    /// <summary>Somebody who plays it, from some frame on: what comes next is read before this returns.</summary>
    /// <param name="position">The frame, 0 … <see cref="Frames"/>.</param>
    /// <param name="mayWait">True: what is not at hand is waited for, so that nothing is ever missed; for a clock that stands still meanwhile.</param>
    public ISoundReader Read(int position, bool mayWait)
    {
        var reader = Follow(position, mayWait);
        try
        {
            ReadAhead();
        }
        catch (IOException)
        {
            // What is at hand plays; whoever reads ahead the next time is told.
        }

        return reader;
    }

    /// <summary>
    /// Somebody who plays it from where somebody else waits already: what is at hand for that one is at hand for this one, and nothing is read before this returns.
    /// </summary>
    /// <param name="position">The frame, 0 … <see cref="Frames"/>.</param>
    /// <param name="mayWait">As with <see cref="Read"/>.</param>
    public ISoundReader Follow(int position, bool mayWait)
    {
        var reader = new Reader(this, position, mayWait);
        lock (_loading)
        {
            _readers.Add(new(reader));
        }

        return reader;
    }

    /// <summary>Reads what is played next, and lets go of what nobody comes to. Any thread but the engine's; a few times a second.</summary>
    /// <exception cref="IOException">The disk fails. What is at hand plays on.</exception>
    public void ReadAhead()
    {
        lock (_loading)
        {
            _readers.RemoveAll(r => !r.TryGetTarget(out _));
            var wanted = new HashSet<int>(Enumerable.Range(0, Math.Min(ChunksKept, _chunks.Length)));
            foreach (var at in _readers.Select(r => r.TryGetTarget(out var reader) ? reader.Position / ChunkFrames : 0))
            {
                wanted.UnionWith(Enumerable.Range(at, ChunksAhead + 1).Select(c => c % _chunks.Length));
            }

            for (var i = 0; i < _chunks.Length; i++)
            {
                if (_chunks[i] is { } left && !wanted.Contains(i))
                {
                    Volatile.Write(ref _chunks[i], null);
                    left.LeftAt = Environment.TickCount64;
                    _resting.Enqueue(left);
                    if (_resting.Count > MostResting)
                    {
                        _resting.Dequeue();
                    }
                }
            }

            // One place of the disk that cannot be read takes nothing from the others.
            IOException? failed = null;
            foreach (var i in wanted)
            {
                try
                {
                    Load(i);
                }
                catch (IOException e)
                {
                    failed ??= e;
                }
            }

            if (failed is not null)
            {
                throw failed;
            }
        }
    }

    /// <inheritdoc/>
    public void Dispose() => _file.Dispose();

    private Chunk Load(int index)
    {
        lock (_loading)
        {
            if (_chunks[index] is { } there)
            {
                return there;
            }

            var chunk = Take();
            var start = (long)index * ChunkFrames;
            var count = (int)Math.Min(ChunkFrames, Frames - start);
            Fill(chunk.Left.AsSpan(0, count), start);
            if (chunk.Right is not null)
            {
                Fill(chunk.Right.AsSpan(0, count), Frames + start);
            }

            Volatile.Write(ref _chunks[index], chunk);
            return chunk;
        }
    }

    // The engine copies a block in microseconds: a second after it was let go it has long done so.
    private Chunk Take()
    {
        if (_resting.TryPeek(out var oldest) && Environment.TickCount64 - oldest.LeftAt > RestsFor)
        {
            return _resting.Dequeue();
        }

        // Of a short sound, there are hundreds.
        var frames = Math.Min(ChunkFrames, Frames);
        return new Chunk(new float[frames], Channels == 2 ? new float[frames] : null);
    }

    private void Fill(Span<float> to, long frame)
    {
        var bytes = MemoryMarshal.AsBytes(to);
        var at = frame * sizeof(float);
        while (!bytes.IsEmpty)
        {
            var count = RandomAccess.Read(_file, bytes, at);
            if (count == 0)
            {
                throw new IOException("The stored sound has become shorter.");
            }

            bytes = bytes[count..];
            at += count;
        }
    }

    private sealed class Chunk(float[] left, float[]? right)
    {
        public float[] Left => left;

        public float[]? Right => right;

        public long LeftAt { get; set; }
    }

    private sealed class Reader(StreamedSound sound, int position, bool mayWait) : ISoundReader
    {
        private int _position = position;

        public int Channels => sound.Channels;

        public int Frames => sound.Frames;

        public int Position => Volatile.Read(ref _position);

        public void Copy(int position, Span<float> left, Span<float> right)
        {
            Volatile.Write(ref _position, position);
            for (var done = 0; done < left.Length;)
            {
                var (index, at) = Math.DivRem(position + done, ChunkFrames);
                var count = Math.Min(left.Length - done, ChunkFrames - at);
                if ((Volatile.Read(ref sound._chunks[index]) ?? (mayWait ? sound.Load(index) : null)) is { } chunk)
                {
                    chunk.Left.AsSpan(at, count).CopyTo(left[done..]);
                    chunk.Right?.AsSpan(at, count).CopyTo(right[done..]);
                }
                else
                {
                    left.Slice(done, count).Clear();
                    right.Slice(Math.Min(done, right.Length), Math.Min(count, right.Length)).Clear();
                    Interlocked.Add(ref sound._missed, count);
                }

                done += count;
            }
        }
    }
}
