using System.Buffers;
using System.Buffers.Binary;
using Kinetra.Core.Editing;
using Kinetra.Core.Voice;
using Kinetra.Server.Features.Analysis;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.Bench;

/// <summary>
/// A loop's bench, which runs while somebody looks: so that its points and processors can be looked at like the show's. Layout: frames of the loop. Values: the show's engine frame (f64), the place in the
/// loop at which all variants are heard (f32, frames), and nothing (u32).
/// </summary>
sealed class LoopTopic(EngineHost host, Loops loops) : IAnalysisTopic
{
    public string Name => "loop";

    public IAnalysis? Open(string? of, out RigProblem? problem)
    {
        problem = null;
        if (host.IsRunning && Guid.TryParse(of, out var id) && loops.Open(id) is { } handle)
        {
            // From now on it runs.
            _ = handle.Loop.Bench;
            return new Analysis(host, handle);
        }

        problem = new RigProblem("of", $"There is no loop “{of}”.", "the id of a loop of the show");
        return null;
    }

    private sealed class Analysis(EngineHost host, LoopHandle handle) : IAnalysis
    {
        private const int Bytes = 16;
        private bool _isTold;
        private long _frame = -1;

        public object? NextLayout()
        {
            if (_isTold)
            {
                return null;
            }

            _isTold = true;
            return new { handle.Loop.Sound.Frames };
        }

        public bool TryWrite(IBufferWriter<byte> values)
        {
            var bench = handle.Loop.Bench;
            var frame = bench.Engine.Frame;
            if (frame == _frame)
            {
                return false;
            }

            _frame = frame;
            var message = values.GetSpan(Bytes)[..Bytes];
            BinaryPrimitives.WriteDoubleLittleEndian(message, host.Engine.Frame);
            BinaryPrimitives.WriteSingleLittleEndian(message[8..], bench.PositionOf(frame, BenchEar.Back));
            BinaryPrimitives.WriteUInt32LittleEndian(message[12..], 0);
            values.Advance(Bytes);
            return true;
        }

        public void Dispose() => handle.Dispose();
    }
}
