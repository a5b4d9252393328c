using System.Collections.Immutable;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

/// <summary>Who loses what if a cable is removed.</summary>
/// <param name="Cable">The cable.</param>
/// <param name="Losses">Each in a sentence.</param>
/// <param name="Obstacle">Why it cannot be removed now; null: it can.</param>
public sealed record CableLosses(CableId Cable, ImmutableArray<string> Losses, string? Obstacle)
{
    /// <summary>Of one cable of a rig.</summary>
    public static CableLosses Of(Rig rig, GearState gear, Cable cable)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(gear);
        ArgumentNullException.ThrowIfNull(cable);
        var (end, cables) = (new CablePoint(cable.Id), CablesNow.Of(rig));
        bool IsIt(EndChoice choice) => choice is ChosenEnd chosen && chosen.End == end;

        // As it would be without it.
        var after = new CableGone(cable.Id).Apply(gear, cables, default) is GearOutcome.Done done ? done.State : gear;
        string Then(App app, AppPort port)
        {
            var next = after.Find(app.Id)!;
            var left = after.EndOf(next, next.Find(port.Id)!, id => id != cable.Id && cables.Has(id));
            var name = left is null ? "nothing" : cables.NameOf(left.End, after);
            return $"{app.Name}, {port.Name}: {name} then.";
        }

        var readers = string.Join(", ", rig.Sources.Where(s => s.Input is CableInput input && input.Cable == cable.Id).Select(s => s.Name));
        return new(
            cable.Id,
            [
                .. cable.Feeds.Select(f => $"{rig.NameOf(f.From)} no longer plays into it."),
                .. rig.Cables.Where(c => c.Find(end) is not null).Select(c => $"{c.Name} no longer gets what is in it."),
                .. gear.Apps.SelectMany(a => a.Ports.Where(p => IsIt(p.Choice)).Select(p => Then(a, p))),
                .. Enum.GetValues<Role>().Where(r => gear.DefaultOf(r) == end).Select(r => $"The default for {Sentences.Words(r)} is {cables.NameOf(after.DefaultOf(r), after)} then."),
                .. rig.Wishes.Roles.Where(w => w.End == end).Select(w => $"The show no longer wants it as the default for {Sentences.Words(w.Role)}."),
                .. rig.Wishes.Ports.Where(w => IsIt(w.Choice)).Select(w => $"The show no longer wants {gear.Find(w.App)?.Name ?? "a program"} set to it."),
                .. rig.Tracks.Where(t => t.Takes == end).Select(t => $"The track {t.Name} is planned no more."),
                .. rig.Promises.OfType<DefaultStays>().Where(p => p.End == end).Select(p => $"The show no longer promises that it stays the default for {Sentences.Words(p.Role)}."),
            ],
            readers.Length == 0 ? null : $"{readers} {(readers.Contains(", ", StringComparison.Ordinal) ? "record" : "records")} from it: take that out, or give it another input, first.");
    }
}
