using System.Buffers;
using System.Buffers.Binary;
using System.Collections.Immutable;
using Kinetra.Core.Editing;
using Kinetra.Core.Signal;
using Kinetra.Server.Features.Analysis;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.Pads;

/// <summary>
/// Which pads sound and how far each has come. Layout: the ids of those that sound, one for each press. Values: for each of them how far it has come (f32, 0 … 1) and whether it
/// was stopped and fades out (f32, 0 or 1).
/// </summary>
sealed class PadTopic(PadBank bank) : IAnalysisTopic
{
    public string Name => "pads";

    public IAnalysis? Open(string? of, out RigProblem? problem)
    {
        problem = null;
        return new Analysis(bank);
    }

    private sealed class Analysis(PadBank bank) : IAnalysis
    {
        private ImmutableArray<PadId> _told;
        private IReadOnlyList<Core.Pads.SoundingPad> _now = [];
        private bool _isNew;

        public object? NextLayout()
        {
            _now = bank.Sounding;
            ImmutableArray<PadId> ids = [.. _now.Select(s => s.Pad)];
            if (!_told.IsDefault && ids.SequenceEqual(_told))
            {
                return null;
            }

            (_told, _isNew) = (ids, true);
            return new { Pads = ids };
        }

        public bool TryWrite(IBufferWriter<byte> values)
        {
            if (_now.Count == 0 && !_isNew)
            {
                return false;
            }

            _isNew = false;
            var bytes = Math.Max(8, 8 * _now.Count);
            var message = values.GetSpan(bytes)[..bytes];
            message.Clear();
            for (var i = 0; i < _now.Count; i++)
            {
                BinaryPrimitives.WriteSingleLittleEndian(message[(8 * i)..], (float)_now[i].Part);
                BinaryPrimitives.WriteSingleLittleEndian(message[((8 * i) + 4)..], _now[i].IsEnding ? 1 : 0);
            }

            values.Advance(bytes);
            return true;
        }

        public void Dispose()
        {
            // It holds nothing.
        }
    }
}
