using Kinetra.Core.Engine;
using Kinetra.Core.Signal;
using Kinetra.Core.Voice;
using Kinetra.Server.Features.Bench;
using Kinetra.Server.Live;
using Kinetra.Server.Outputs;

namespace Kinetra.Server.Features.Listening;

/// <summary>One window's ears: from point to point without a click, whatever becomes of the show.</summary>
sealed class Ears(EngineHost host, TimeProvider time) : Output("ears", "a window of a browser", retry: null, time)
{
    private readonly Listener _listener = new();
    private volatile Heard? _heard;
    private Heard? _left;
    private Guid? _unreadable;
    private long _frames;

    public override Point? Point => _heard?.Point;

    public override long Frames => Volatile.Read(ref _frames);

    public override long Lost => _listener.Lost;

    /// <summary>Turns to a point, or to silence (null); holds it, so that it goes on whatever becomes of the show.</summary>
    public void Turn(Point? point)
    {
        if (_heard is not OfPoint { Point: var now } || now != point)
        {
            Turn(point is null ? null : new OfPoint(host.Engine.Hold(point)));
        }

        _listener.Select(_heard?.Ring);
    }

    /// <summary>Turns to what somebody wants to hear of a chain, for these ears alone.</summary>
    public void Turn(AuditionWish wish)
    {
        if (_heard is not OfAudition { Of: var now } || now.Wish != wish)
        {
            Turn(new OfAudition(new Audition(host.Engine, wish)));
        }

        _listener.Select(_heard!.Ring);
    }

    /// <summary>Turns to the bench, for these ears alone; within one loop, without a break.</summary>
    public void Turn(Guid loop, SourceId variant, Loops loops)
    {
        if ((_heard is not OfBench { Loop: var now } || now != loop) && _unreadable != loop)
        {
            // One whose sound cannot be read is silence, and is not tried again and again.
            var handle = loops.Open(loop);
            _unreadable = handle is null ? loop : null;
            Turn(handle is null ? null : new OfBench(loop, handle, host));
        }

        (_heard as OfBench)?.Hear(variant);
        _listener.Select(_heard?.Ring);
    }

    /// <summary>By how many LU what is auditioned was louder with than without; null: that is not known, or nothing is.</summary>
    public double? Difference => (_heard as OfAudition)?.Of.Difference;

    /// <summary>Copies the next frames: <see cref="Listener.Read"/>.</summary>
    public int Read(Span<float> left, Span<float> right, out long frame)
    {
        _heard?.CatchUp();
        _left?.CatchUp();
        var count = _listener.Read(left, right, out frame);
        if (_left is not null && !_listener.IsTurning)
        {
            LetGo();
        }

        Volatile.Write(ref _frames, _frames + count);
        return count;
    }

    protected override void Release()
    {
        LetGo();
        _heard?.Dispose();
    }

    // What is left goes on until it has faded.
    private void Turn(Heard? next)
    {
        LetGo();
        (_left, _heard) = (_heard, next);
    }

    private void LetGo()
    {
        _left?.Dispose();
        _left = null;
    }

    private abstract class Heard : IDisposable
    {
        public abstract AudioRing Ring { get; }

        public abstract Point? Point { get; }

        public virtual void CatchUp()
        {
        }

        public abstract void Dispose();
    }

    private sealed class OfPoint(HeldTap held) : Heard
    {
        public override AudioRing Ring => held.Ring;

        public override Point? Point => held.Tapped.Point;

        public override void Dispose() => held.Dispose();
    }

    private sealed class OfAudition(Audition audition) : Heard
    {
        public Audition Of => audition;

        public override AudioRing Ring => audition.Ring;

        public override Point? Point => audition.Wish.Place;

        public override void CatchUp() => audition.CatchUp();

        public override void Dispose() => audition.Dispose();
    }

    private sealed class OfBench(Guid loop, LoopHandle handle, EngineHost host) : Heard
    {
        private readonly BenchEar _ear = new(handle.Loop.Bench);
        private SourceId _variant;

        public Guid Loop => loop;

        public override AudioRing Ring => _ear.Ring;

        // Nothing of the show.
        public override Point? Point => null;

        public void Hear(SourceId variant) => _variant = variant;

        public override void CatchUp()
        {
            _ear.Hear(_variant, handle.Loop.GainOf(_variant));
            _ear.CatchUp(host.Engine.Frame);
        }

        public override void Dispose()
        {
            _ear.Dispose();
            handle.Dispose();
        }
    }
}
