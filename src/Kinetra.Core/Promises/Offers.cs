using System.Collections.Immutable;
using Kinetra.Core.Findings;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Promises;

/// <summary>Promises that a show as it is makes sense of: what most people would want watched in it, and what holds by its routing already.</summary>
public static class Offers
{
    private const double Over = 4;
    private const double Around = 3;
    private const double Ceiling = -0.9;
    private const double Within = 40;

    /// <summary>What is offered, but not promised yet; what is most private first. Their ids are not the show's.</summary>
    public static ImmutableArray<Promise> Of(Situation s)
    {
        ArgumentNullException.ThrowIfNull(s);
        var said = s.Rig.Promises.Select(Said).ToHashSet();
        return [.. All(s).Where(p => !said.Contains(Said(p)) && ByRouting.Of(p, s).State != PromiseState.Broken).Select((p, i) => p with { Id = new($"offer-{i + 1}") })];
    }

    private static IEnumerable<Promise> All(Situation s)
    {
        var live = s.Rig.Mixes.Where(m => s.Rig.IsForMany(m.Id)).ToList();

        // Where nobody listens now, the recording is what the audience will hear.
        var viewers = live.Count > 0 ? live : [.. s.Rig.Mixes.Where(m => m.Purpose == MixPurpose.Recording)];
        var encoders = s.Gear.Apps.Where(a => a.Kind == AppKind.Encoder).SelectMany(a => a.Ports.Where(p => p.Side == Side.In).Select(p => (Point)new AppPoint(a.Id, p.Id))).Where(p => s.Routed.Wiring.Links.Any(l => l.To == p)).ToList();
        foreach (var source in s.Rig.Sources.Where(x => x.Kind == SourceKind.Chat))
        {
            foreach (var listener in viewers.Select(m => (Point)new MixPoint(m.Id)).Concat(encoders))
            {
                yield return new NeverReaches(default, source.Id, listener);
            }
        }

        foreach (var source in s.Rig.Sources.Where(x => x.Kind is SourceKind.Call or SourceKind.Chat && !ByRouting.EarsOf(x, s).IsEmpty))
        {
            yield return new NeverHearsHimself(default, source.Id);
        }

        foreach (var mix in viewers)
        {
            foreach (var source in s.Rig.Sources.Where(ByRouting.IsSpeech).Where(x => s.Rig.Find(mix.Id, x.Id) is { Factor: not 0 }))
            {
                yield return new Reaches(default, source.Id, new MixPoint(mix.Id));
            }

            yield return new HeardOnce(default, new MixPoint(mix.Id));
            var heard = mix.Sends.Where(d => d.Factor != 0).Select(d => s.Rig.Find(d.Source)!).ToList();
            if (heard.Any(ByRouting.IsSpeech) && heard.Any(ByRouting.IsBed))
            {
                yield return new SpeechOverBed(default, mix.Id, Over);
            }

            yield return new LoudnessInRange(default, mix.Id, mix.TargetLufs - Around, Math.Min(0, mix.TargetLufs + Around));
            yield return new TruePeakUnder(default, mix.Id, Ceiling);
        }

        foreach (var source in s.Rig.Sources.Where(x => x.SyncDelay > 0))
        {
            foreach (var mix in viewers.Where(m => s.Rig.Find(m.Id, source.Id) is { Factor: not 0 }))
            {
                yield return new InStep(default, source.Id, new MixPoint(mix.Id), Math.Round(source.SyncDelay), Within);
            }
        }

        foreach (var source in s.Rig.Sources.Where(ByRouting.IsSpeech))
        {
            yield return new OwnTrack(default, source.Id);
        }

        foreach (var stream in s.Rig.Streams)
        {
            yield return new StaysOnAir(default, stream.Id);
        }

        foreach (var wish in s.Rig.Wishes.Roles)
        {
            yield return new DefaultStays(default, wish.Role, wish.End);
        }
    }

    // What a promise is about: another figure does not make it another one.
    private static Promise Said(Promise promise) => promise switch
    {
        SpeechOverBed p => p with { Id = default, AtLeast = 0 },
        LoudnessInRange p => p with { Id = default, From = 0, To = 0 },
        TruePeakUnder p => p with { Id = default, Ceiling = 0 },
        InStep p => p with { Id = default, Picture = 0, Within = 0 },
        DefaultStays p => new DefaultStays(default, p.Role, new SourcePoint(new("any"))),
        _ => promise with { Id = default },
    };
}
