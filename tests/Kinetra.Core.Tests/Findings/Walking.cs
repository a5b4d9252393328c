using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Findings;

/// <summary>By hand, as a judge: over every link along which sound flows, until a device plays it, a program hears it, or a source takes it again.</summary>
static class Walking
{
    /// <summary>True for a source that something is linked to: a cable, a program or a device may have nothing to give, or be away.</summary>
    public static bool IsFed(Source source, Wiring wiring) => wiring.Links.Any(l => l.To == new SourcePoint(source.Id, Tap.Raw));

    /// <summary>Whom a source's sound comes to: mixes, what devices play, what programs hear, sources that take it again.</summary>
    public static HashSet<Point> From(Source source, Wiring wiring)
    {
        var (seen, heard) = (new HashSet<Point>(), new HashSet<Point>());
        Walk(new SourcePoint(source.Id, Tap.Raw));
        // A source's own program or input: what else that gives to others, unless the source that is named first has it.
        Func<Point, bool> own = source.Input switch
        {
            AppInput input => p => p is AppPoint port && port.Id == input.App && wiring.Gear.Find(port.Id)?.Find(port.Port)?.Side == Side.Out && (input.Port is null || input.Port == port.Port),
            DeviceInput input => p => p == new DevicePoint(input.Device, Side.In),
            EverythingElseInput => p => wiring.Links.Any(l => l.From == p && l.To == new SourcePoint(source.Id, Tap.Raw)),
            _ => _ => false,
        };
        foreach (var other in wiring.Links.Where(l => own(l.From) && l.To is not SourcePoint && l.State == LinkState.On && l.Use == LinkUse.Sound && Mine(source, l, wiring)))
        {
            Step(other);
        }

        return heard;

        void Walk(Point at)
        {
            if (!seen.Add(at))
            {
                return;
            }

            foreach (var link in wiring.Links.Where(l => l.From == at && l.Use == LinkUse.Sound && l.State == LinkState.On))
            {
                Step(link);
            }
        }

        void Step(Link link)
        {
            switch (link.To)
            {
                case SourcePoint to when to.Id != source.Id || to.Tap == Tap.Raw:
                    heard.Add(to);
                    break;
                case AppPoint or DevicePoint:
                    heard.Add(link.To);
                    break;
                case MixPoint { Tap: Tap.Raw } mix:
                    heard.Add(new MixPoint(mix.Id));
                    Walk(link.To);
                    break;
                default:
                    Walk(link.To);
                    break;
            }
        }
    }

    private static bool Mine(Source source, Link other, Wiring wiring)
    {
        // Into a cable that only sources take, the source that takes it is where it begins.
        if (other.To is CablePoint cable && wiring.Links.Where(l => l.From == cable && l.Use == LinkUse.Sound).ToList() is { Count: > 0 } on && on.TrueForAll(l => l.To is SourcePoint))
        {
            return false;
        }

        if (other.From is AppPoint port)
        {
            var named = First(wiring, o => o.Input is AppInput { Port: { } named } input && input.App == port.Id && named == port.Port);
            return Spread.HasOwnSound(wiring.Gear.Find(port.Id)!) && (named ?? First(wiring, o => o.Input is AppInput { Port: null } input && input.App == port.Id))?.Id == source.Id;
        }

        var device = wiring.Gear.Find(((DevicePoint)other.From).Id)!;
        return other.Map.Cells.Where(c => c.Gain != 0).Select(c => c.From).Distinct().Where(c => c < device.Inputs.Length && device.Inputs[c].Plugged != Plugged.Nothing)
            .Any(c => First(wiring, o => o.Input is DeviceInput input && input.Device == device.Id && (input.Left == c || input.Right == c))?.Id == source.Id);
    }

    private static Source? First(Wiring wiring, Func<Source, bool> takes) => wiring.Rig.Sources.FirstOrDefault(takes);
}
