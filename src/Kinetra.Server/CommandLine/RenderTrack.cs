using Kinetra.Core.Engine;
using Kinetra.Core.Metering;
using Kinetra.Core.Signal;
using Kinetra.Media;

namespace Kinetra.Server.CommandLine;

/// <summary>One file of a render: a ring on one side, a file and its measurement on the other.</summary>
sealed class RenderTrack(string path, string kind, string name, AudioRing ring, int latency, long frames, SoundFormat format, SampleKind samples) : IDisposable
{
    private const int ChunkFrames = 8_192;

    private readonly SoundFileWriter _writer = new(path, ring.Channels, format, samples);
    private readonly Measurement _measurement = new(ring.Channels, AudioFormat.SampleRate);
    private readonly float[][] _planes = [.. Enumerable.Range(0, ring.Channels).Select(_ => new float[ChunkFrames])];
    private readonly float[] _unused = new float[ChunkFrames];

    // What look-ahead made late is taken out: the first frame is the one of the show's beginning.
    private long _position = latency;

    public int Latency => latency;

    /// <summary>Takes all that there is.</summary>
    /// <exception cref="IOException">It cannot be written.</exception>
    public void CatchUp()
    {
        while (_position < Math.Min(ring.End, latency + frames))
        {
            var room = (int)Math.Min(ChunkFrames, latency + frames - _position);
            var right = ring.Channels == 2 ? _planes[1] : _unused;
            var count = ring.Read(ref _position, _planes[0].AsSpan(0, room), right.AsSpan(0, room), out _);
            _writer.Write(_planes[0].AsSpan(0, count), right.AsSpan(0, count));
            _measurement.Add(_planes, count);
        }
    }

    public void Dispose() => _writer.Dispose();

    public RenderedFile Report() => new(
        Path.GetFileName(path), kind, name, latency * 1_000.0 / AudioFormat.SampleRate, _writer.Clipped, _measurement.Finish());
}
