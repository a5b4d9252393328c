using System.Buffers;
using System.Buffers.Binary;
using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Signal;
using Kinetra.Server.Features.Bench;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.Analysis;

/// <summary>
/// How loud it is at any one point of the signal, computed from that point's ring while somebody looks. Values: engine frame after the last
/// sample (f64), samples since the last values (u32), frames lost so far (u32), then for left and right the highest sample and the RMS of
/// them (f32, dBFS).
/// </summary>
sealed class PointTopic(EngineHost host, Playing playing, Loops loops) : IAnalysisTopic
{
    public string Name => "point";

    public IAnalysis? Open(string? of, out RigProblem? problem) => Hold(host, playing, loops, of, out problem) is { } held ? new Analysis(held) : null;

    /// <summary>Holds a point that a window names, of the show or of a bench that runs; null where there is a problem.</summary>
    public static HeldTap? Hold(EngineHost host, Playing playing, Loops loops, string? of, out RigProblem? problem)
    {
        problem = null;
        if (Point.Parse(of) is not { } point)
        {
            problem = new RigProblem("of", "This is no point.", "a point as source/host/before, mix/viewers or stage/ID of a processor");
        }

        // What the engine was told last, which it plays in a moment: who adds a processor looks at it at once.
        else if (!host.IsRunning || playing.Plan.ChannelsOf(point) == 0)
        {
            if (loops.EngineWith(p => p.ChannelsOf(point) > 0) is { } bench)
            {
                return bench.Hold(point);
            }

            problem = new RigProblem("of", $"There is no “{point}”.", "a point that the show has now");
        }
        else
        {
            return host.Engine.Hold(point);
        }

        return null;
    }

    private sealed class Analysis : IAnalysis
    {
        private const int Bytes = 32;
        private readonly TapCursor _cursor;
        private readonly float[] _left = new float[2048];
        private readonly float[] _right = new float[2048];

        public Analysis(HeldTap held) => _cursor = new TapCursor(held, held.Ring.End);

        public object? NextLayout() => null;

        public bool TryWrite(IBufferWriter<byte> values)
        {
            // Off the ring as it is: a listener's ears get fades, which would be measured too.
            var (left, right, read) = (default(Sum), default(Sum), 0);
            int count;
            while ((count = _cursor.Read(_left, _right, out _)) > 0)
            {
                left = left.With(_left.AsSpan(0, count));
                right = right.With(_right.AsSpan(0, count));
                read += count;
            }

            if (read == 0)
            {
                return false;
            }

            var message = values.GetSpan(Bytes);
            BinaryPrimitives.WriteDoubleLittleEndian(message, _cursor.Position);
            BinaryPrimitives.WriteUInt32LittleEndian(message[8..], (uint)read);
            BinaryPrimitives.WriteUInt32LittleEndian(message[12..], (uint)_cursor.Lost);
            left.Write(message[16..], read);
            right.Write(message[24..], read);
            values.Advance(Bytes);
            return true;
        }

        public void Dispose() => _cursor.Dispose();
    }

    private readonly record struct Sum(float Peak, double Squares)
    {
        public Sum With(ReadOnlySpan<float> samples)
        {
            var (peak, squares) = (Peak, Squares);
            foreach (var x in samples)
            {
                peak = Math.Max(peak, Math.Abs(x));
                squares += (double)x * x;
            }

            return new(peak, squares);
        }

        public void Write(Span<byte> to, int count)
        {
            BinaryPrimitives.WriteSingleLittleEndian(to, (float)(20 * Math.Log10(Peak)));
            BinaryPrimitives.WriteSingleLittleEndian(to[4..], (float)(10 * Math.Log10(Squares / count)));
        }
    }
}
