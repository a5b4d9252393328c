using Kinetra.Core.Signal;

namespace Kinetra.Core.Routing;

/// <summary>
/// By how much look-ahead makes each point late, with the closing links cut, and how long each link waits so that all that meets in a
/// mix or a cable is as late as the slowest. Only processors' look-ahead counts: never the processor Delay, cables' buffers or devices,
/// which people set on purpose or want to see. Where it leaves to the computer's devices and programs nothing waits: nobody could make it. What a listener does not hear now counts as if it were heard: bringing it in, or docking
/// it, moves nothing else in time. All in frames at 48 kHz.
/// </summary>
public sealed class Alignment
{
    /// <summary>The longest that a link can wait, frames; what would need more stays early by the rest.</summary>
    public const int MostFrames = 32_000;

    private readonly Wiring _wiring;
    private readonly int[] _latencies;
    private readonly int[] _waits;

    private Alignment(Wiring wiring) => (_wiring, _latencies, _waits) = (wiring, new int[wiring.Points.Length], new int[wiring.Links.Length]);

    /// <summary>Works it out.</summary>
    public static Alignment Of(Wiring wiring, RunOrder order)
    {
        ArgumentNullException.ThrowIfNull(wiring);
        ArgumentNullException.ThrowIfNull(order);
        var result = new Alignment(wiring);
        foreach (var place in order.Places)
        {
            foreach (var link in wiring.Shape.Into(place))
            {
                if (Counts(link))
                {
                    result._latencies[place] = Math.Max(result._latencies[place], result.Arrival(link));
                }
            }

            foreach (var link in wiring.Points[place] is DevicePoint or AppPoint ? [] : wiring.Shape.Into(place))
            {
                if (Counts(link))
                {
                    result._waits[link] = Math.Min(result._latencies[place] - result.Arrival(link), MostFrames);
                }
            }
        }

        return result;

        bool Counts(int link) => wiring.Links[link].Use == LinkUse.Sound && !order.IsLate(link) && !order.IsCut(link);
    }

    /// <summary>By how much a point of the wiring is late.</summary>
    public int LatencyOf(Point point) => _latencies[_wiring.PlaceOf(point)];

    /// <summary>How long the link at that place waits for the slowest that comes to the same point; 0 for one that closes a circle.</summary>
    public int WaitOf(int link) => _waits[link];

    private int Arrival(int link) => _latencies[_wiring.Ends[link].From] + _wiring.Links[link].Delays.LookAhead;
}
