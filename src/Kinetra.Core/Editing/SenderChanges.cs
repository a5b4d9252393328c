using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

/// <summary>Somebody begins to send sound into a cable by its address: a program of the computer, for as long as that lasts.</summary>
/// <param name="App">Its identity: one for each such cable.</param>
/// <param name="Name">What it calls itself.</param>
/// <param name="Cable">The cable.</param>
/// <param name="Channels">1 or 2.</param>
public sealed record SenderComes(AppId App, string Name, CableId Cable, int Channels) : GearChange
{
    /// <summary>The one output of such a program.</summary>
    public const string Port = "sound";

    /// <inheritdoc/>
    public override GearOutcome Apply(GearState gear, CablesNow cables, DateTimeOffset now)
    {
        ArgumentNullException.ThrowIfNull(gear);
        ArgumentNullException.ThrowIfNull(cables);
        if (!cables.Has(Cable))
        {
            return Refuse("cable", "There is no such cable.", "a cable of the show");
        }

        if (gear.Find(App) is { } there)
        {
            return Refuse("app", $"{there.Name} sends there already.", "one at a time");
        }

        var app = new App
        {
            Id = App,
            Name = Name,
            Kind = AppKind.Sender,
            // The desk itself takes it in: a narrower cable gets all of it, and not one side alone.
            Ports = [new AppPort { Id = Port, Name = "what it sends", Side = Side.Out, Channels = Channels, Intake = Intake.Folded, IsFixed = true, Choice = new ChosenEnd(new CablePoint(Cable)) }],
            IsRunning = true,
            IsPlaying = true,
            Since = now,
        };
        return new GearOutcome.Done(gear with { Apps = gear.Apps.Add(app) }, $"{Name} sends into {cables.NameOf(new CablePoint(Cable), gear)} by its address");
    }
}

/// <summary>A program that sent into a cable by its address sends no more.</summary>
/// <param name="App">Which; null: all that there are.</param>
public sealed record SenderGoes(AppId? App) : GearChange
{
    /// <inheritdoc/>
    public override GearOutcome Apply(GearState gear, CablesNow cables, DateTimeOffset now)
    {
        ArgumentNullException.ThrowIfNull(gear);
        var left = gear.Apps.RemoveAll(a => a.Kind == AppKind.Sender && (App is null || a.Id == App));
        return left.Length == gear.Apps.Length ? Unchanged(gear) : new GearOutcome.Done(gear with { Apps = left }, "What was sent in by address ends");
    }
}
