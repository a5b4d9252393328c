using System.Buffers;
using System.Buffers.Binary;
using System.Runtime.InteropServices;
using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Metering;
using Kinetra.Core.Signal;
using Kinetra.Core.Voice;
using Kinetra.Server.Features.Analysis;
using Kinetra.Server.Features.Bench;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.Voice;

/// <summary>
/// The spectrum at any one point of the signal, or of what one processor changes alone (<c>change/ID</c>), computed from its ring while somebody looks. Layout: the frequencies, Hz, and of what it is made
/// (<see cref="SpectrumAnalyser"/>). Values: engine frame after the last sample (f64), then for each frequency its power, dBFS (f32).
/// </summary>
sealed class SpectrumTopic(EngineHost host, Playing playing, Loops loops) : IAnalysisTopic
{
    public string Name => "spectrum";

    private const string Change = "change/";

    public IAnalysis? Open(string? of, out RigProblem? problem)
    {
        if (of?.StartsWith(Change, StringComparison.Ordinal) == true)
        {
            return OpenChange(new ProcessorId(of[Change.Length..]), out problem);
        }

        return PointTopic.Hold(host, playing, loops, of, out problem) is { } held ? new Analysis(held.Ring, held, () => { }) : null;
    }

    private Analysis? OpenChange(ProcessorId id, out RigProblem? problem)
    {
        // What the engines were told last, which they play in a moment.
        AuditionWish? WishIn(EnginePlan plan) => plan.PlaceOf(id) is { } place && new AuditionWish(place, AuditionKind.Change, id) is var wish && wish.FitsIn(plan) ? wish : null;
        AuditionWish? wish = null;
        var running = host.IsRunning && (wish = WishIn(playing.Plan)) is not null ? host.Engine : loops.EngineWith(p => (wish = WishIn(p)) is not null);
        if (running is null || wish is null)
        {
            problem = new RigProblem("of", $"There is no processor “{id.Value}” whose change could be told apart.", "the id of a processor of a source or a mix of the show that takes away or adds");
            return null;
        }

        problem = null;
        var audition = new Audition(running, wish);
        return new Analysis(audition.Ring, audition, audition.CatchUp);
    }

    private sealed class Analysis(AudioRing ring, IDisposable held, Action catchUp) : IAnalysis
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
            catchUp();
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
