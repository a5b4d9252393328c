using System.Buffers;
using System.Buffers.Binary;
using System.Runtime.InteropServices;
using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Metering;
using Kinetra.Core.Signal;
using Kinetra.Server.Features.Analysis;
using Kinetra.Server.Features.Bench;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.Voice;

/// <summary>
/// The spectrum at any one point of the signal, computed from its ring while somebody looks. Layout: the frequencies, Hz, and of what it is made
/// (<see cref="SpectrumAnalyser"/>). Values: engine frame after the last sample (f64), then for each frequency its power, dBFS (f32).
/// </summary>
sealed class SpectrumTopic(EngineHost host, Playing playing, Loops loops) : IAnalysisTopic
{
    public string Name => "spectrum";

    public IAnalysis? Open(string? of, out RigProblem? problem) => PointTopic.Hold(host, playing, loops, of, out problem) is { } held ? new Analysis(held) : null;

    private sealed class Analysis(HeldTap held) : IAnalysis
    {
        private const int HeaderBytes = 8;
        private readonly SpectrumAnalyser _analyser = new();
        private readonly float[] _left = new float[SpectrumAnalyser.Length];
        private readonly float[] _right = new float[SpectrumAnalyser.Length];
        private bool _isTold;
        private long _until = -1;

        public object? NextLayout()
        {
            if (_isTold)
            {
                return null;
            }

            _isTold = true;
            return new { SpectrumAnalyser.Frequencies, Window = "von Hann", SpectrumAnalyser.Length, SpectrumAnalyser.Averaging };
        }

        public bool TryWrite(IBufferWriter<byte> values)
        {
            var ring = held.Ring;
            var end = ring.End;
            if (ring.Beginning < 0 || end == _until)
            {
                return false;
            }

            // Before it began there was silence.
            var from = Math.Max(ring.Beginning, end - SpectrumAnalyser.Length);
            var missing = SpectrumAnalyser.Length - (int)(end - from);
            _left.AsSpan(0, missing).Clear();
            _right.AsSpan(0, missing).Clear();
            ring.Read(ref from, _left.AsSpan(missing), _right.AsSpan(missing), out _);
            _analyser.Take(_left, ring.Channels == 2 ? _right : default(ReadOnlySpan<float>), _until < 0 ? 1 : (double)(end - _until) / AudioFormat.SampleRate);
            _until = end;
            var length = HeaderBytes + (SpectrumAnalyser.Points * sizeof(float));
            var message = values.GetSpan(length)[..length];
            BinaryPrimitives.WriteDoubleLittleEndian(message, end);
            _analyser.CopyTo(MemoryMarshal.Cast<byte, float>(message[HeaderBytes..]));
            values.Advance(length);
            return true;
        }

        public void Dispose() => held.Dispose();
    }
}
