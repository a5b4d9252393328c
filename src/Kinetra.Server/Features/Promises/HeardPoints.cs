using Kinetra.Core.Engine;
using Kinetra.Core.Promises;
using Kinetra.Core.Signal;

namespace Kinetra.Server.Features.Promises;

/// <summary>
/// The newest seconds of all points that promises listen to, in step with one another to the sample: taken off the engine's rings, like any other
/// reader's. Not safe for several threads.
/// </summary>
sealed class HeardPoints : IDisposable
{
    // All begin and end on such frames: whole blocks, and whole samples at the rate that is kept.
    private const long Grid = 768;

    private readonly Dictionary<Point, Place> _places = [];
    private readonly float[] _left = new float[4_096];
    private readonly float[] _right = new float[4_096];

    /// <summary>The engine frame up to which all are kept.</summary>
    public long End { get; private set; }

    /// <summary>From now on these are listened to, and no others.</summary>
    public void Hold(MixEngine engine, IReadOnlySet<Point> wanted)
    {
        foreach (var (point, place) in _places.Where(p => !wanted.Contains(p.Key)).ToList())
        {
            place.Cursor.Dispose();
            _places.Remove(point);
        }

        if (_places.Count == 0)
        {
            End = (engine.Frame / Grid) * Grid;
        }

        foreach (var point in wanted.Where(p => !_places.ContainsKey(p)))
        {
            var held = engine.Hold(point);
            _places[point] = new Place(new TapCursor(held, End), End, [.. Enumerable.Range(0, held.Ring.Channels).Select(_ => new HeardSound())]);
        }
    }

    /// <summary>Takes what is new.</summary>
    public void CatchUp(MixEngine engine)
    {
        if (_places.Count == 0)
        {
            return;
        }

        var end = _places.Values.Where(p => p.Cursor.Ring.Beginning >= 0).Select(p => p.Cursor.Ring.End).DefaultIfEmpty(engine.Frame).Min() / Grid * Grid;
        if (end <= End)
        {
            return;
        }

        foreach (var place in _places.Values)
        {
            CatchUp(place, end);
        }

        End = end;
    }

    /// <summary>The newest of a point's channels, where it has been listened to without a break since a frame; null: not yet.</summary>
    /// <param name="point">The point.</param>
    /// <param name="since">What was before does not count.</param>
    /// <param name="spare">Gives room for a channel.</param>
    public float[][]? Newest(Point point, long since, Func<float[]> spare)
    {
        if (!_places.TryGetValue(point, out var place) || End - Math.Max(since, place.Begun) < HeardSound.Kept * (long)(AudioFormat.SampleRate / HeardSound.Rate))
        {
            return null;
        }

        return [.. place.Channels.Select(c =>
        {
            var samples = spare();
            c.CopyTo(samples);
            return samples;
        })];
    }

    /// <inheritdoc/>
    public void Dispose()
    {
        foreach (var place in _places.Values)
        {
            place.Cursor.Dispose();
        }

        _places.Clear();
    }

    private void CatchUp(Place place, long end)
    {
        var cursor = place.Cursor;
        while (cursor.Position < end)
        {
            // A point that is not there is silent, and so is what was lost.
            var begins = cursor.Ring.Beginning;
            if (begins < 0 || begins > cursor.Position)
            {
                var to = begins < 0 ? end : Math.Min(begins, end);
                Silence(place, to - cursor.Position);
                cursor.Position = to;
                continue;
            }

            var wanted = (int)Math.Min(end - cursor.Position, _left.Length);
            var count = cursor.Read(_left.AsSpan(0, wanted), _right.AsSpan(0, wanted), out var lost);
            if (lost > 0)
            {
                Silence(place, lost);
                place.Begun = cursor.Position;
            }

            if (count == 0)
            {
                break;
            }

            place.Channels[0].Append(_left.AsSpan(0, count));
            if (place.Channels.Length > 1)
            {
                place.Channels[1].Append(_right.AsSpan(0, count));
            }
        }
    }

    private static void Silence(Place place, long frames)
    {
        foreach (var channel in place.Channels)
        {
            channel.AppendSilence(frames);
        }
    }

    private sealed class Place(TapCursor cursor, long begun, HeardSound[] channels)
    {
        public TapCursor Cursor { get; } = cursor;

        public long Begun { get; set; } = begun;

        public HeardSound[] Channels { get; } = channels;
    }
}
