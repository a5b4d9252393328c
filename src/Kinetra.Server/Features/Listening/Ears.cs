using Kinetra.Core.Engine;
using Kinetra.Core.Signal;
using Kinetra.Core.Voice;
using Kinetra.Server.Live;
using Kinetra.Server.Outputs;

namespace Kinetra.Server.Features.Listening;

/// <summary>One window's ears: from point to point without a click, whatever becomes of the show.</summary>
sealed class Ears(EngineHost host, TimeProvider time) : Output("ears", "a window of a browser", retry: null, time)
{
    private readonly Listener _listener = new();
    private volatile HeldTap? _held;
    private volatile Audition? _audition;
    private Audition? _leaving;
    private IDisposable? _left;
    private long _frames;

    public override Point? Point => _audition?.Wish.Place ?? _held?.Tapped.Point;

    public override long Frames => Volatile.Read(ref _frames);

    public override long Lost => _listener.Lost;

    /// <summary>Turns to a point, or to silence (null); holds it, so that it goes on whatever becomes of the show.</summary>
    public void Turn(Point? point)
    {
        if (_audition is not null || point != _held?.Tapped.Point)
        {
            Leave();
            _held = point is null ? null : host.Engine.Hold(point);
        }

        _listener.Select(_held?.Ring);
    }

    /// <summary>Turns to what somebody wants to hear of a chain, for these ears alone.</summary>
    public void Turn(AuditionWish wish)
    {
        if (_audition?.Wish != wish)
        {
            Leave();
            _audition = new Audition(host.Engine, wish);
        }

        _listener.Select(_audition.Ring);
    }

    /// <summary>By how many LU what is auditioned was louder with than without; null: that is not known, or nothing is.</summary>
    public double? Difference => _audition?.Difference;

    /// <summary>Copies the next frames: <see cref="Listener.Read"/>.</summary>
    public int Read(Span<float> left, Span<float> right, out long frame)
    {
        _audition?.CatchUp();
        _leaving?.CatchUp();
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
        _held?.Dispose();
        _audition?.Dispose();
    }

    // What is left goes on until it has faded.
    private void Leave()
    {
        LetGo();
        (_leaving, _left) = (_audition, (IDisposable?)_audition ?? _held);
        (_audition, _held) = (null, null);
    }

    private void LetGo()
    {
        _left?.Dispose();
        (_left, _leaving) = (null, null);
    }
}
