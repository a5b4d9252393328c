using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

/// <summary>
/// Takes back what one change of the computer did. What somebody has changed again since stays as it is now; all else that was done since, too.
/// </summary>
/// <param name="Before">The computer before that change.</param>
/// <param name="After">The computer after it.</param>
/// <param name="What">What it did, as a person reads it.</param>
public sealed record TakeGearBack(GearState Before, GearState After, string What) : GearChange
{
    private const string Back = "Taken back: ", Again = "Done again: ";

    // However often it goes to and fro, it is told once.
    private string Sentence => What.StartsWith(Back, StringComparison.Ordinal) ? $"{Again}{What[Back.Length..]}"
        : What.StartsWith(Again, StringComparison.Ordinal) ? $"{Back}{What[Again.Length..]}"
        : $"{Back}{What}";

    /// <inheritdoc/>
    public override GearOutcome Apply(GearState gear, CablesNow cables, DateTimeOffset now)
    {
        ArgumentNullException.ThrowIfNull(gear);
        ArgumentNullException.ThrowIfNull(cables);
        var (state, done, refused) = (gear, false, (GearOutcome.Refused?)null);
        foreach (var change in Devices(gear).Concat(Programs(gear)))
        {
            Do(change);
        }

        // What is plugged in again would become a default: only what the change itself made one is another again.
        for (var role = Role.Playback; role <= Role.CallsRecording; role++)
        {
            var wanted = Still(g => g.DefaultOf(role), gear) ? Before.DefaultOf(role) : gear.DefaultOf(role);
            if (wanted is not null && state.DefaultOf(role) != wanted)
            {
                Do(new SetDefault(role, wanted));
            }
        }

        return done
            ? new GearOutcome.Done(state, Sentence)
            : refused ?? Refuse("change", "What it did has been changed again since.", "a change that still stands");

        void Do(GearChange change)
        {
            switch (change.Apply(state, cables, now))
            {
                case GearOutcome.Done { Sentence.Length: > 0 } next:
                    (state, done) = (next.State, true);
                    break;
                case GearOutcome.Refused no:
                    refused ??= no;
                    break;
            }
        }
    }

    // True where the change made it another, and it is so still.
    private bool Still<T>(Func<GearState, T> value, GearState now) =>
        !EqualityComparer<T>.Default.Equals(value(Before), value(After)) && EqualityComparer<T>.Default.Equals(value(now), value(After));

    private IEnumerable<GearChange> Devices(GearState now)
    {
        foreach (var made in After.Devices.Where(d => Before.Find(d.Id) is null && now.Find(d.Id) is not null))
        {
            yield return new PartDevices(made.Id);
        }

        foreach (var gone in Before.Devices.Where(d => After.Find(d.Id) is null && now.Find(d.Id) is null))
        {
            yield return new JoinDevices(gone.Id, gone.Name, gone.Joins);
        }

        foreach (var was in Before.Devices.Where(d => After.Find(d.Id) is not null && now.Find(d.Id) is not null))
        {
            T? Was<T>(Func<Device, T> of)
                where T : struct => Still(g => of(g.Find(was.Id)!), now) ? of(was) : null;

            yield return new SetDevice(
                was.Id,
                Was(d => d.IsPresent),
                Still(g => g.Find(was.Id)!.BusyWith, now) ? was.BusyWith ?? "" : null,
                Was(d => d.Rate),
                Was(d => d.BufferFrames),
                Was(d => d.IsMonitoring));
            for (var i = 0; i < was.Inputs.Length; i++)
            {
                var at = i;
                yield return new SetDeviceInput(
                    was.Id,
                    at,
                    Still(g => g.Find(was.Id)!.Inputs[at].Gain, now) ? was.Inputs[at].Gain : null,
                    Still(g => g.Find(was.Id)!.Inputs[at].LowCut, now) ? was.Inputs[at].LowCut : null,
                    Was(d => d.Inputs[at].IsExposed));
            }
        }
    }

    private IEnumerable<GearChange> Programs(GearState now)
    {
        // What sends into a cable by its address comes and goes.
        foreach (var was in Before.Apps.Where(a => After.Find(a.Id) is not null && now.Find(a.Id) is not null))
        {
            T? Was<T>(Func<App, T> of)
                where T : struct => Still(g => of(g.Find(was.Id)!), now) ? of(was) : null;

            yield return new SetApp(
                was.Id,
                Was(a => a.IsRunning),
                Was(a => a.IsPlaying),
                Was(a => a.Volume),
                Still(g => g.Find(was.Id)!.EvensVoices, now) ? was.EvensVoices : null,
                Still(g => g.Find(was.Id)!.Tests, now) ? was.Tests : null);
            foreach (var port in was.Ports.Where(p => Still(g => g.Find(was.Id)!.Find(p.Id)!.Choice, now)))
            {
                yield return new SetPort(was.Id, port.Id, port.Choice, Restart: true);
            }
        }
    }
}
