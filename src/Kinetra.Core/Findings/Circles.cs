using System.Collections.Immutable;
using System.Security.Cryptography;
using System.Text;
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
                KeyOf(loop),
                loop.GainDecibels >= Loops.HeldFrom ? Harm.Serious : loop.GainDecibels >= Audible ? Harm.Noticeable : Harm.Slight,
                Sentence(loop, s),
                [.. loop.Held.Select(l => l.Via is SendPoint or null ? l.To : l.From), .. points.Where(p => p is MixPoint { Tap: Tap.AfterChain } or CablePoint or SourcePoint { Tap: Tap.AfterChain } or AppPoint)],
                [.. ends.Reverse().Select(l => Cuts.Of(l, s)).OfType<Fix>().OrderBy(Cuts.Breadth).Take(2)]);
        }
    }

    // A loop can lead through a hundred points: what they are is told, what they are called by is short, and the same whatever comes first.
    private static string KeyOf(SoundLoop loop) => $"loop {Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(string.Join(' ', loop.Points.Select(p => p.ToString()).Order(StringComparer.Ordinal)))).AsSpan(..8))}";

    private static string Sentence(SoundLoop loop, Situation s)
    {
        var milliseconds = LoopRound.FramesOf(s.Routed, loop) * 1_000.0 / AudioFormat.SampleRate;
        var through = string.Join(", ", loop.Names);
        if (Math.Abs(loop.GainDecibels) < 0.05)
        {
            return $"Sound goes round through {through}, and comes back as loud each time: it never ends.{Held(loop)}";
        }

        if (loop.GainDecibels > 0)
        {
            return $"Sound goes round through {through}, and comes back {Situation.Decibels(loop.GainDecibels)} louder each time: it builds up by {Situation.Decibels(loop.GainDecibels * 1_000 / milliseconds)} a second, a howl.{Held(loop)}";
        }

        // Until it is 60 dB softer.
        var ring = milliseconds * 60 / -loop.GainDecibels;
        return $"Sound goes round through {through}, and comes back {Situation.Decibels(loop.GainDecibels)} softer each time: it rings on for {(ring >= 1_000 ? $"{ring / 1_000:0.0} s" : Situation.Milliseconds(ring))}.{Held(loop)}";
    }

    private static string Held(SoundLoop loop) => loop.Held.IsEmpty ? "" : " What closes it is held muted until that is settled.";
}
