using System.Collections.Immutable;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Findings;

/// <summary>Sound that goes round: how much louder it comes back, how fast that builds up or dies away.</summary>
static class Circles
{
    // Below it is no more than a faint tail.
    private const double Audible = -20;

    public static IEnumerable<Finding> In(Situation s)
    {
        foreach (var loop in s.Routed.Loops.All)
        {
            var points = loop.Points;
            var ends = loop.Held.IsEmpty ? loop.Links : loop.Held;
            yield return new Finding(
                FindingKind.Loop,
                $"loop {string.Join(' ', points)}",
                loop.GainDecibels >= Loops.HeldFrom ? Harm.Serious : loop.GainDecibels >= Audible ? Harm.Noticeable : Harm.Slight,
                Sentence(loop, s),
                [.. loop.Held.Select(l => l.Via is SendPoint or null ? l.To : l.From), .. points.Where(p => p is MixPoint { Tap: Tap.AfterChain } or CablePoint or SourcePoint { Tap: Tap.AfterChain } or AppPoint)],
                [.. ends.Reverse().Select(l => Cuts.Of(l, s)).OfType<Fix>().OrderBy(Cuts.Breadth).Take(2)]);
        }
    }

    private static string Sentence(SoundLoop loop, Situation s)
    {
        var round = loop.Links.Sum(l => l.Delays.LookAhead + l.Delays.Set + l.Delays.Buffer + l.Delays.Device) + (loop.Closing.Length * AudioFormat.BlockFrames);
        var milliseconds = Math.Max(1, round) * 1_000.0 / AudioFormat.SampleRate;
        var through = string.Join(", ", loop.Names);
        if (loop.GainDecibels >= 0)
        {
            var what = loop.GainDecibels < 0.1 ? "it never ends" : $"it builds up by {Situation.Decibels(loop.GainDecibels * 1_000 / milliseconds)} a second";
            return $"Sound goes round through {through}, and comes back {Situation.Decibels(loop.GainDecibels)} louder each time: {what}, a howl.{Held(loop)}";
        }

        // Until it is 60 dB softer.
        var ring = milliseconds * 60 / -loop.GainDecibels;
        return $"Sound goes round through {through}, and comes back {Situation.Decibels(loop.GainDecibels)} softer each time: it rings on for {(ring >= 1_000 ? $"{ring / 1_000:0.0} s" : Situation.Milliseconds(ring))}.{Held(loop)}";
    }

    private static string Held(SoundLoop loop) => loop.Held.IsEmpty ? "" : " What closes it is held muted until that is settled.";
}
