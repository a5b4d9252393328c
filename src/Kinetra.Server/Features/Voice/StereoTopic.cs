using System.Buffers;
using System.Buffers.Binary;
using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Metering;
using Kinetra.Server.Features.Analysis;
using Kinetra.Server.Features.Bench;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.Voice;

/// <summary>
/// How left and right belong together at any one point, while somebody looks (<see cref="StereoReading"/>). Values: engine frame after the last sample (f64), then the correlation, the sides over the
/// middle (dB), and by how much left and right lie beside zero (dBFS), each f32; of a mono point both are the same.
/// </summary>
sealed class StereoTopic(EngineHost host, Playing playing, Loops loops) : IAnalysisTopic
{
    public string Name => "stereo";

    public IAnalysis? Open(string? of, out RigProblem? problem) => PointTopic.Hold(host, playing, loops, of, out problem) is { } held ? new Analysis(held) : null;

    private sealed class Analysis(HeldTap held) : IAnalysis
    {
        private const int Bytes = 24;
        private readonly TapCursor _cursor = new(held, held.Ring.End);
        private readonly StereoReading _reading = new();
        private readonly float[] _left = new float[2048];
        private readonly float[] _right = new float[2048];

        public object? NextLayout() => null;

        public bool TryWrite(IBufferWriter<byte> values)
        {
            var read = 0;
            int count;
            while ((count = _cursor.Read(_left, _right, out _)) > 0)
            {
                _reading.Take(_left.AsSpan(0, count), (held.Ring.Channels == 2 ? _right : _left).AsSpan(0, count));
                read += count;
            }

            if (read == 0)
            {
                return false;
            }

            var message = values.GetSpan(Bytes);
            BinaryPrimitives.WriteDoubleLittleEndian(message, _cursor.Position);
            BinaryPrimitives.WriteSingleLittleEndian(message[8..], (float)_reading.Correlation);
            BinaryPrimitives.WriteSingleLittleEndian(message[12..], (float)_reading.SidesOverMiddle);
            BinaryPrimitives.WriteSingleLittleEndian(message[16..], (float)_reading.OffsetLeft);
            BinaryPrimitives.WriteSingleLittleEndian(message[20..], (float)_reading.OffsetRight);
            values.Advance(Bytes);
            return true;
        }

        public void Dispose() => _cursor.Dispose();
    }
}
