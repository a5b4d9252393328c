using System.Globalization;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

/// <summary>Sets a program's output or input.</summary>
/// <param name="App">The program.</param>
/// <param name="Port">Which of its outputs and inputs.</param>
/// <param name="Choice">What it is set to.</param>
/// <param name="Restart">True: the program is started anew where it would not see that otherwise.</param>
public sealed record SetPort(AppId App, string Port, EndChoice Choice, bool Restart = false) : GearChange
{
    /// <inheritdoc/>
    public override GearOutcome Apply(GearState gear, CablesNow cables, DateTimeOffset now)
    {
        ArgumentNullException.ThrowIfNull(gear);
        ArgumentNullException.ThrowIfNull(cables);
        if (gear.Find(App) is not { } app)
        {
            return NoApp(App);
        }

        if (app.Kind == AppKind.Sender)
        {
            return NotOurs(app);
        }

        if (app.Find(Port) is not { } port)
        {
            var ports = string.Join(", ", app.Ports.Select(p => p.Id));
            return new GearOutcome.Refused(new("port", $"{app.Name} has no output or input “{Port}”.", ports), IsUnknown: true);
        }

        if (GearRules.CheckChoice("choice", Choice) is [var problem, ..])
        {
            return new GearOutcome.Refused(problem);
        }

        // A program that cannot see what it is set to is started anew for it.
        var mustRestart = Restart && Choice is ChosenEnd wanted && !app.Sees(wanted.End);
        if (port.Choice == Choice && !mustRestart)
        {
            return Unchanged(gear);
        }

        if (port.IsFixed)
        {
            return Refuse("port", $"{app.Name} has no choice of its own here: it follows the default.", "the default, changed for the whole computer");
        }

        if (Choice is ChosenEnd chosen)
        {
            if (CheckEnd("choice.end", chosen.End, port.Side, gear, cables) is { } refused)
            {
                return refused;
            }

            var channels = cables.ChannelsOf(chosen.End, gear);
            if (chosen.Channels is { } some && (some.Left >= channels || some.Right >= channels))
            {
                return Refuse("choice.channels", $"{cables.NameOf(chosen.End, gear)} has {channels} channels.", $"channels from 0 to {channels - 1}");
            }

            if (!app.Sees(chosen.End))
            {
                if (!Restart)
                {
                    return new GearOutcome.Refused(
                        new("choice.end", $"{app.Name} does not see {cables.NameOf(chosen.End, gear)} before it is restarted.", "an end that was there when it started; or a restart"),
                        NeedsRestart: true);
                }

                app = app with { Knows = EndsOf(gear, cables), Since = now };
            }
        }

        var next = app with { Ports = app.Ports.Replace(port, port with { Choice = Choice }) };
        return new GearOutcome.Done(gear.With(next), $"{app.Name}, {port.Name}: {Words(gear, cables)}");
    }

    private string Words(GearState gear, CablesNow cables) => Choice switch
    {
        NoEnd => "nothing",
        DefaultEnd { Calls: true } => "the default for calls",
        DefaultEnd => "the default",
        ChosenEnd { Channels: { } channels } chosen => string.Create(
            CultureInfo.InvariantCulture, $"{cables.NameOf(chosen.End, gear)}, {(channels.Right is { } right ? $"{channels.Left + 1} and {right + 1}" : $"{channels.Left + 1}")}"),
        ChosenEnd chosen => cables.NameOf(chosen.End, gear),
        _ => "something",
    };
}

/// <summary>Starts or ends a program, lets it play or pause, and sets what else it has. What is null stays as it is.</summary>
/// <param name="App">The program.</param>
/// <param name="IsRunning">Whether it runs.</param>
/// <param name="IsPlaying">Whether it plays what it has to play.</param>
/// <param name="Volume">Its own volume; at most 0 dB.</param>
/// <param name="EvensVoices">Whether it removes echo and evens levels.</param>
/// <param name="Tests">Whether it plays its test sound.</param>
public sealed record SetApp(AppId App, bool? IsRunning = null, bool? IsPlaying = null, Gain? Volume = null, bool? EvensVoices = null, bool? Tests = null) : GearChange
{
    /// <inheritdoc/>
    public override GearOutcome Apply(GearState gear, CablesNow cables, DateTimeOffset now)
    {
        ArgumentNullException.ThrowIfNull(gear);
        ArgumentNullException.ThrowIfNull(cables);
        if (gear.Find(App) is not { } app)
        {
            return NoApp(App);
        }

        if (app.Kind == AppKind.Sender)
        {
            return NotOurs(app);
        }

        if (Volume is { } volume && (!volume.IsAllowed || volume.Decibels > 0))
        {
            return Refuse("volume", $"{volume} is out of range.", "a number of dB from -120 to 0, or \"off\"");
        }

        if ((EvensVoices is not null && app.EvensVoices is null) || (Tests is not null && app.Tests is null))
        {
            return Refuse(EvensVoices is null ? "tests" : "evensVoices", $"{app.Name} has no such thing.", "a program that has it");
        }

        var next = app with
        {
            Volume = Volume ?? app.Volume,
            IsPlaying = IsPlaying ?? app.IsPlaying,
            EvensVoices = EvensVoices ?? app.EvensVoices,
            Tests = Tests ?? app.Tests,
            IsRunning = IsRunning ?? app.IsRunning,
        };
        var words = new List<string>();
        if (next.IsRunning != app.IsRunning)
        {
            // What it was set to, it still is.
            next = next with { Since = now, Knows = next is { IsRunning: true, SeesNewAfterRestart: true } ? EndsOf(gear, cables) : [] };
            words.Add(next.IsRunning ? "starts" : "ends");
        }

        if (next.IsPlaying != app.IsPlaying)
        {
            words.Add(next.IsPlaying ? "plays" : "pauses");
        }

        if (next.Volume != app.Volume)
        {
            words.Add($"volume {next.Volume}");
        }

        if (next.EvensVoices != app.EvensVoices)
        {
            words.Add(next.EvensVoices == true ? "removes echo and evens levels" : "leaves what it is sent as it is");
        }

        if (next.Tests != app.Tests)
        {
            words.Add(next.Tests == true ? "plays its test sound" : "ends its test sound");
        }

        return words.Count == 0 ? Unchanged(gear) : new GearOutcome.Done(gear.With(next), $"{app.Name} {string.Join(", ", words)}");
    }
}
