using System.Buffers;
using System.Buffers.Binary;
using System.Runtime.InteropServices;
using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Signal;
using Kinetra.Server.Features.Air;
using Kinetra.Server.Features.Takes;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.Analysis;

/// <summary>
/// All meters of the live show. Layout: the ids of sources, mixes and processors, and the points of cables and the computer, in the order of their values. Values: engine frame (f64),
/// load (f32), late blocks (u32), flags (u32: 1 hushed, 2 recording, 4 on air, 8 not all that is wanted on air is), whole seconds on air (u32), seconds recorded (f64), then the floats of
/// <see cref="MeterLayout"/>.
/// </summary>
sealed class LevelsTopic(EngineHost host, HushSwitch hush, TakeRecorder recorder, AirDesk air, TimeProvider time) : IAnalysisTopic
{
    /// <summary>What stands before the floats, bytes.</summary>
    public const int HeaderBytes = 32;

    public string Name => "levels";

    public IAnalysis? Open(string? of, out RigProblem? problem)
    {
        problem = of is null ? null : new RigProblem("of", "Levels are of the whole show.", "nothing here");
        return of is null ? new Analysis(host, hush, recorder, air, time) : null;
    }

    private sealed class Analysis(EngineHost host, HushSwitch hush, TakeRecorder recorder, AirDesk air, TimeProvider time) : IAnalysis
    {
        private MeterBoard? _board;
        private long _written;

        public object? NextLayout()
        {
            var board = host.IsRunning ? host.Engine.Plan.Meters : null;
            if (board == _board)
            {
                return null;
            }

            (_board, _written) = (board, 0);
            return board is null ? null : new { board.Layout.Sources, board.Layout.Mixes, board.Layout.Processors, board.Layout.Buses };
        }

        public bool TryWrite(IBufferWriter<byte> values)
        {
            if (_board is not { } board || board.Sequence == _written)
            {
                return false;
            }

            _written = board.Sequence;
            var length = HeaderBytes + (board.Layout.Length * sizeof(float));
            var message = values.GetSpan(length)[..length];
            var frame = board.Read(MemoryMarshal.Cast<byte, float>(message[HeaderBytes..]));
            BinaryPrimitives.WriteDoubleLittleEndian(message, frame);
            BinaryPrimitives.WriteSingleLittleEndian(message[8..], (float)host.Load);
            BinaryPrimitives.WriteUInt32LittleEndian(message[12..], (uint)host.LateBlocks);
            var (onAir, wanted, since) = air.Sum;
            BinaryPrimitives.WriteUInt32LittleEndian(
                message[16..], (hush.IsOn ? 1u : 0) | (recorder.Current is not null ? 2u : 0) | (onAir > 0 ? 4u : 0) | (wanted > onAir ? 8u : 0));
            BinaryPrimitives.WriteUInt32LittleEndian(message[20..], since is null ? 0 : (uint)Math.Max(0, (time.GetUtcNow() - since.Value).TotalSeconds));
            BinaryPrimitives.WriteDoubleLittleEndian(message[24..], (double)recorder.FramesSoFar(frame) / AudioFormat.SampleRate);
            values.Advance(length);
            return true;
        }

        public void Dispose()
        {
        }
    }
}
