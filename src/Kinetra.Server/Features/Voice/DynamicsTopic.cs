using System.Buffers;
using System.Buffers.Binary;
using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Signal;
using Kinetra.Core.Voice;
using Kinetra.Server.Features.Analysis;
using Kinetra.Server.Features.Bench;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.Voice;

/// <summary>
/// What one processor of a source's or a mix's chain does, block by block, while somebody looks. Layout: frames of a block, and
/// of a second. Values: engine frame after the last block (f64), then for each block of
/// 256 frames since the last values <see cref="BlockValues"/> floats: what it heard, by how much it lowered (dB), the highest sample in and out
/// (dBFS), what came out over what went in (RMS, dB; not a number where it was silent), and what it did as a gate (0 none, 1 shut, 2 open, 3 holding).
/// </summary>
sealed class DynamicsTopic(EngineHost host, Playing playing, Loops loops) : IAnalysisTopic
{
    /// <summary>Floats of a block.</summary>
    public const int BlockValues = 6;

    public string Name => "dynamics";

    public IAnalysis? Open(string? of, out RigProblem? problem)
    {
        problem = null;
        if (of is not null && host.IsRunning)
        {
            var id = new ProcessorId(of);
            if ((playing.Plan.Find(id) is not null ? host.Engine : loops.EngineWith(p => p.Find(id) is not null)) is { } running)
            {
                return new Analysis(new DynamicsView(running, id));
            }
        }

        problem = new RigProblem("of", $"There is no processor “{of}”.", "the id of a processor of a source or a mix of the show");
        return null;
    }

    private sealed class Analysis(DynamicsView view) : IAnalysis
    {
        private const int HeaderBytes = 8;
        private readonly DynamicsBlock[] _blocks = new DynamicsBlock[DynamicsView.MaxBacklog / AudioFormat.BlockFrames];

        private bool _isTold;

        public object? NextLayout()
        {
            if (_isTold)
            {
                return null;
            }

            _isTold = true;
            return new { AudioFormat.BlockFrames, AudioFormat.SampleRate };
        }

        public bool TryWrite(IBufferWriter<byte> values)
        {
            var count = view.Read(_blocks);
            if (count == 0)
            {
                return false;
            }

            var length = HeaderBytes + (count * BlockValues * sizeof(float));
            var message = values.GetSpan(length)[..length];
            BinaryPrimitives.WriteDoubleLittleEndian(message, view.Position);
            for (var i = 0; i < count; i++)
            {
                var block = _blocks[i];
                var at = message[(HeaderBytes + (i * BlockValues * sizeof(float)))..];
                BinaryPrimitives.WriteSingleLittleEndian(at, block.Heard);
                BinaryPrimitives.WriteSingleLittleEndian(at[4..], block.Reduction);
                BinaryPrimitives.WriteSingleLittleEndian(at[8..], block.In);
                BinaryPrimitives.WriteSingleLittleEndian(at[12..], block.Out);
                BinaryPrimitives.WriteSingleLittleEndian(at[16..], block.Gain);
                BinaryPrimitives.WriteSingleLittleEndian(at[20..], (float)block.Gate);
            }

            values.Advance(length);
            return true;
        }

        public void Dispose() => view.Dispose();
    }
}
