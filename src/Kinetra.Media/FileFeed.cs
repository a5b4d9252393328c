using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Media;

/// <summary>Plays a sound file once, from the disk, at the engine's rate. Only for an engine that may wait: offline.</summary>
public sealed class FileInlet : IInlet, IDisposable
{
    private const int ChunkFrames = 2_048;

    private readonly string _path;
    private readonly OpenSoundFile _file;
    private readonly float[] _interleaved;
    private readonly RateConverter?[] _converters;
    private readonly float[] _plane = new float[ChunkFrames];
    private readonly float[][] _ready;
    private int _at;
    private int _count;
    private bool _ended;

    /// <summary>Opens a file.</summary>
    /// <exception cref="SoundFileException">It is no sound file.</exception>
    public FileInlet(string path)
    {
        if (!File.Exists(path))
        {
            throw new SoundFileException("There is no such file.", OpenSoundFile.Allowed);
        }

        _file = new OpenSoundFile(path);
        Channels = Math.Min(2, _file.Channels);
        _interleaved = new float[ChunkFrames * _file.Channels];
        _converters = [.. Enumerable.Range(0, Channels).Select(_ => _file.SampleRate == AudioFormat.SampleRate ? null : new RateConverter(_file.SampleRate, AudioFormat.SampleRate))];
        var room = _converters[0]?.MostFrom(ChunkFrames) ?? ChunkFrames;
        _ready = [.. Enumerable.Range(0, Channels).Select(_ => new float[room])];
        _path = path;
    }

    /// <summary>Counts how long it really is, frames at the engine's rate; a longer one than that is not read to its end.</summary>
    public long CountFrames(long most)
    {
        using var file = new OpenSoundFile(_path);
        var own = file.CountFrames(most * file.SampleRate / AudioFormat.SampleRate);
        return ((own * AudioFormat.SampleRate) + file.SampleRate - 1) / file.SampleRate;
    }

    /// <inheritdoc/>
    public int Channels { get; }

    /// <inheritdoc/>
    public bool BeginsWithSource => true;

    /// <inheritdoc/>
    public void Read(long frame, Span<float> left, Span<float> right)
    {
        for (var done = 0; done < left.Length;)
        {
            if (_at == _count && !Fill())
            {
                left[done..].Clear();
                if (Channels == 2)
                {
                    right[done..].Clear();
                }

                return;
            }

            var part = Math.Min(left.Length - done, _count - _at);
            _ready[0].AsSpan(_at, part).CopyTo(left[done..]);
            if (Channels == 2)
            {
                _ready[1].AsSpan(_at, part).CopyTo(right[done..]);
            }

            _at += part;
            done += part;
        }
    }

    /// <inheritdoc/>
    public void Restart()
    {
    }

    /// <inheritdoc/>
    public void Dispose() => _file.Dispose();

    // False once there is no more.
    private bool Fill()
    {
        (_at, _count) = (0, 0);
        while (_count == 0 && !_ended)
        {
            var frames = _file.Read(_interleaved);
            _ended = frames == 0;
            if (_ended)
            {
                frames = Math.Min(_converters[0]?.Tail ?? 0, ChunkFrames);
                _interleaved.AsSpan().Clear();
            }

            for (var c = 0; c < Channels; c++)
            {
                _count = Take(c, frames);
            }
        }

        return _count > 0;
    }

    // At the engine's rate: as it is, or converted.
    private int Take(int channel, int frames)
    {
        if (_converters[channel] is not { } converter)
        {
            Interleaving.Take(_interleaved, _file.Channels, channel, _ready[channel].AsSpan(0, frames));
            return frames;
        }

        Interleaving.Take(_interleaved, _file.Channels, channel, _plane.AsSpan(0, frames));
        return converter.Process(_plane.AsSpan(0, frames), _ready[channel]);
    }
}
