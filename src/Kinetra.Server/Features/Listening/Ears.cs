using Kinetra.Core.Engine;
using Kinetra.Core.Signal;
using Kinetra.Server.Live;
using Kinetra.Server.Outputs;

namespace Kinetra.Server.Features.Listening;

/// <summary>One window's ears: from point to point without a click, whatever becomes of the show.</summary>
sealed class Ears(EngineHost host, TimeProvider time) : Output("ears", "a window of a browser", retry: null, time)
{
    private readonly Listener _listener = new();
    private volatile HeldTap? _held;
    private long _frames;

    public override Point? Point => _held?.Tapped.Point;

    public override long Frames => Volatile.Read(ref _frames);

    public override long Lost => _listener.Lost;

    /// <summary>Turns to a point, or to silence (null); holds it, so that it goes on whatever becomes of the show.</summary>
    public void Turn(Point? point)
    {
        if (point != _held?.Tapped.Point)
        {
            var old = _held;
            _held = point is null ? null : host.Engine.Hold(point);
            old?.Dispose();
        }

        _listener.Select(_held?.Ring);
    }

    /// <summary>Copies the next frames: <see cref="Listener.Read"/>.</summary>
    public int Read(Span<float> left, Span<float> right, out long frame)
    {
        var count = _listener.Read(left, right, out frame);
        Volatile.Write(ref _frames, _frames + count);
        return count;
    }

    protected override void Release() => _held?.Dispose();
}
