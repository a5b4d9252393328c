using System.Collections.Immutable;
using Kinetra.Core.Editing;
using Kinetra.Core.Findings;
using Kinetra.Core.Promises;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Hands;

/// <summary>What goes on for as long as somebody holds it: no step of the show and no part of it.</summary>
/// <param name="Source">Whose voice.</param>
public abstract record Hold(SourceId Source)
{
    /// <summary>What it is, in words.</summary>
    public abstract string Words(Rig rig);

    /// <summary>The address of the action that it is.</summary>
    public abstract string Address { get; }

    /// <summary>
    /// What is laid over a show while these are held: worked out for the show as it is at every moment, so that a mix that comes meanwhile is under it too. All are
    /// levels, so that what runs goes on. A cough goes before talkback; two talkbacks of one voice reach both listeners.
    /// </summary>
    public static ImmutableArray<RigCommand> Over(Rig rig, IEnumerable<Hold> holds)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(holds);
        var commands = ImmutableArray.CreateBuilder<RigCommand>();
        foreach (var ofOne in holds.GroupBy(h => h.Source).Where(g => rig.Find(g.Key) is not null))
        {
            ImmutableHashSet<MixId> to = ofOne.Any(h => h is Cough) ? [] : [.. ofOne.OfType<Talkback>().Select(t => t.To)];
            var voices = Same(rig, ofOne.Key);
            foreach (var mix in rig.Mixes.Where(m => m.Purpose != MixPurpose.MyEars))
            {
                commands.AddRange(mix.Sends
                    .Where(s => voices.Contains(s.Source) && s.Factor > 0 && !(s.Source == ofOne.Key && to.Contains(mix.Id)))
                    .Select(s => new SetSend(mix.Id, s.Source, Muted: true)));
            }

            // Whoever is spoken to hears it, also where the voice waits in the dock.
            commands.AddRange(to.Select(m => (Mix: m, Send: rig.Find(m, ofOne.Key))).Where(t => t.Send is { Factor: 0 })
                .Select(t => new SetSend(t.Mix, ofOne.Key, t.Send!.Gain.IsOff ? Gain.Unity : null, Heard: true, Muted: false)));
            commands.AddRange(rig.Cables.SelectMany(c => c.Feeds
                .Where(f => f.On && f.From is SourcePoint from && voices.Contains(from.Id)).Select(f => new SetCableFeed(c.Id, f.From, On: false))));
        }

        return commands.ToImmutable();
    }

    /// <summary>Which other listeners' mixes it reaches all the same, with the way, as sentences: through a cable, a call, a program that passes it on.</summary>
    /// <param name="over">The show with this laid over it, beside the computer.</param>
    public ImmutableArray<string> OthersReached(Situation over)
    {
        ArgumentNullException.ThrowIfNull(over);
        return [.. over.Routed.Wiring.Rig.Mixes.Where(m => m.Purpose != MixPurpose.MyEars && m.Id != (this as Talkback)?.To).SelectMany(m => Reached(over, new MixPoint(m.Id)))];
    }

    /// <summary>Which programs hear the voice by ways that no mix and no cable of the show can end, as sentences: those that record the microphone itself.</summary>
    /// <param name="without">The show with a cough of this voice laid over it: what reaches a program then goes through no mix that is spoken to.</param>
    public ImmutableArray<string> ProgramsReached(Situation without)
    {
        ArgumentNullException.ThrowIfNull(without);
        return [.. without.Routed.Wiring.Gear.Apps.Where(a => a.IsRunning).SelectMany(a => a.Ports.Where(p => p.Side == Side.In).SelectMany(p => Reached(without, new AppPoint(a.Id, p.Id))))];
    }

    private ImmutableArray<string> Reached(Situation s, Point listener) =>
        s.Routed.Wiring.Rig.Find(Source) is not null && s.Routed.Wiring.ChannelsOf(listener) > 0 && ByRouting.Of(new NeverReaches(PromiseId.New(), Source, listener), s) is { State: PromiseState.Broken, Why: var why } ? [why] : [];

    /// <summary>Whose sound is held: a microphone that is two sources, raw and worked on, as a whole.</summary>
    public static ImmutableHashSet<SourceId> VoicesOf(Rig rig, IEnumerable<Hold> holds)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(holds);
        return [.. holds.SelectMany(h => Same(rig, h.Source))];
    }

    private static ImmutableHashSet<SourceId> Same(Rig rig, SourceId source) =>
        [source, .. rig.Sources.Where(s => rig.Find(source) is { } held && Share(s.Input, held.Input)).Select(s => s.Id)];

    // Whether two take their sound from one channel of one input.
    private static bool Share(SourceInput a, SourceInput b) => (a, b) switch
    {
        (DeviceInput x, DeviceInput y) => x.Device == y.Device && Meet(x.Left, x.Right, y.Left, y.Right),
        (BrowserInput x, BrowserInput y) => (x.Client, x.Device) == (y.Client, y.Device) && Meet(x.Left, x.Right, y.Left, y.Right),
        _ => false,
    };

    private static bool Meet(int left, int? right, int otherLeft, int? otherRight) => left == otherLeft || left == otherRight || (right is not null && (right == otherLeft || right == otherRight));

    private protected string Name(Rig rig) => rig.Find(Source)?.Name ?? "What is gone";
}

/// <summary>A microphone reaches nobody but oneself for as long as it is held.</summary>
/// <param name="Source">Which.</param>
public sealed record Cough(SourceId Source) : Hold(Source)
{
    /// <inheritdoc/>
    public override string Address => $"source/{Source}/cough";

    /// <inheritdoc/>
    public override string Words(Rig rig) => $"{Name(rig)} reaches nobody but you";
}

/// <summary>A microphone reaches one listener alone for as long as it is held.</summary>
/// <param name="Source">Which.</param>
/// <param name="To">The listener's mix.</param>
public sealed record Talkback(SourceId Source, MixId To) : Hold(Source)
{
    /// <inheritdoc/>
    public override string Address => $"source/{Source}/talk/{To}";

    /// <inheritdoc/>
    public override string Words(Rig rig)
    {
        ArgumentNullException.ThrowIfNull(rig);
        return $"{Name(rig)} reaches {rig.Find(To)?.Name ?? "nobody"} alone";
    }
}
