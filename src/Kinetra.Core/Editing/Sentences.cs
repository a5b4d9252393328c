using System.Globalization;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

/// <summary>What changed between two values, as a person reads it in the history: "−6.0 dB → −9.5 dB".</summary>
static class Sentences
{
    public static string Of(Send old, Send now)
    {
        var parts = new List<string>();
        if (old.Gain != now.Gain)
        {
            parts.Add(Change(old.Gain, now.Gain));
        }

        if (old.Heard != now.Heard)
        {
            parts.Add(now.Heard ? "taken out of the dock" : "put in the dock");
        }

        if (old.Muted != now.Muted)
        {
            parts.Add(now.Muted ? "muted" : "unmuted");
        }

        if (old.Pan != now.Pan)
        {
            parts.Add($"pan {Pan(old.Pan)} → {Pan(now.Pan)}");
        }

        if (old.Tap != now.Tap)
        {
            parts.Add(now.Tap == Tap.BeforeChain ? "taken before the chain" : "taken after the chain");
        }

        return Join(parts);
    }

    public static string Of(Mix old, Mix now)
    {
        var parts = new List<string>();
        if (old.Name != now.Name)
        {
            parts.Add($"renamed to {now.Name}");
        }

        if (old.Gain != now.Gain)
        {
            parts.Add(Change(old.Gain, now.Gain));
        }

        if (old.TargetLufs != now.TargetLufs)
        {
            parts.Add($"target {Signed(old.TargetLufs, "0.0")} → {Signed(now.TargetLufs, "0.0")} LUFS");
        }

        return $"{old.Name} {Join(parts)}";
    }

    public static string Of(Pad old, Pad now)
    {
        var parts = new List<string>();
        Tell(old.Name != now.Name, $"renamed to {now.Name}");
        Tell(old.Gain != now.Gain, Change(old.Gain, now.Gain));
        Tell(old.Key != now.Key, now.Key.Length == 0 ? "taken off its key" : "laid on another key");
        Tell(old.Play != now.Play, now.Play switch
        {
            PadPlay.Once => "plays once",
            PadPlay.Again => "begins again when pressed",
            PadPlay.Over => "plays over itself",
            PadPlay.Loop => "goes round",
            _ => "plays while held",
        });
        Tell(old.Begin != now.Begin || old.End != now.End, "trimmed");
        Tell(old.FadeIn != now.FadeIn || old.FadeOut != now.FadeOut, "fades otherwise");
        Tell(old.Group != now.Group, now.Group.Length == 0 ? "in no group" : $"in the group {now.Group}");
        Tell(old.Dim != now.Dim, now.Dim == 0 ? "dims nothing" : $"dims all else by {Signed(now.Dim, "0.#")} dB");
        Tell(old.Source != now.Source, "heard through another source");
        Tell(old.Sound != now.Sound, "has another sound");
        Tell(old.Look != now.Look, "looks different");
        return $"{old.Name} {Join(parts)}";

        void Tell(bool isSo, string what)
        {
            if (isSo)
            {
                parts.Add(what);
            }
        }
    }

    public static string Of(Source old, Source now)
    {
        var parts = new List<string>();
        if (old.Name != now.Name)
        {
            parts.Add($"renamed to {now.Name}");
        }

        if (old.Trim != now.Trim)
        {
            parts.Add($"trim {Change(old.Trim, now.Trim)}");
        }

        if (old.Inverted != now.Inverted)
        {
            parts.Add(now.Inverted ? "turned upside down" : "the right way up again");
        }

        if (old.Fold != now.Fold)
        {
            parts.Add(now.Fold ? "folded to mono" : "no longer folded to mono");
        }

        if (old.SyncDelay != now.SyncDelay)
        {
            parts.Add($"held back {old.SyncDelay.ToString("0.#", CultureInfo.InvariantCulture)} → {now.SyncDelay.ToString("0.#", CultureInfo.InvariantCulture)} ms");
        }

        if (old.Input.MayLoop != now.Input.MayLoop && old.Input.GetType() == now.Input.GetType())
        {
            parts.Add(now.Input.MayLoop ? "may close its loop" : "may no longer close its loop");
        }
        else if (old.Input != now.Input)
        {
            parts.Add("has another input");
        }

        if (old.Look != now.Look)
        {
            parts.Add("looks different");
        }

        return $"{old.Name} {Join(parts)}";
    }

    public static string Of(Cable old, Cable now)
    {
        var parts = new List<string>();
        if (old.Name != now.Name)
        {
            parts.Add($"renamed to {now.Name}");
        }

        if (old.Channels != now.Channels)
        {
            parts.Add($"{old.Channels} → {now.Channels} channels");
        }

        if (old.BufferFrames != now.BufferFrames)
        {
            parts.Add($"buffer {old.BufferFrames} → {now.BufferFrames} frames");
        }

        return $"{old.Name} {Join(parts)}";
    }

    public static string Of(CableFeed old, CableFeed now) =>
        Join(Way((old.Gain, old.On, old.Into, old.LoopAllowed), (now.Gain, now.On, now.Into, now.LoopAllowed)));

    public static string Of(Destination old, Destination now)
    {
        var parts = Way((old.Gain, old.On, old.Into, old.LoopAllowed), (now.Gain, now.On, now.Into, now.LoopAllowed));
        if (old.End != now.End)
        {
            parts.Add($"instead of {NameOf(old.End)}");
        }

        return Join(parts);
    }

    /// <summary>What a destination is called where nobody can be asked for its name.</summary>
    public static string NameOf(DestinationEnd end) => end switch
    {
        BrowserOutput browser => browser.Label,
        DeviceOutput device => device.Device.Value,
        _ => "something",
    };

    public static string Words(Role role) => role switch
    {
        Role.Playback => "playback",
        Role.Recording => "recording",
        Role.CallsPlayback => "calls’ playback",
        _ => "calls’ recording",
    };

    // What a way into a cable and a way to a destination have in common.
    private static List<string> Way((Gain Gain, bool On, CableChannels Into, bool Loop) old, (Gain Gain, bool On, CableChannels Into, bool Loop) now)
    {
        var parts = new List<string>();
        if (old.Gain != now.Gain)
        {
            parts.Add(Change(old.Gain, now.Gain));
        }

        if (old.On != now.On)
        {
            parts.Add(now.On ? "on" : "off");
        }

        if (old.Into != now.Into)
        {
            parts.Add("fills other channels");
        }

        if (old.Loop != now.Loop)
        {
            parts.Add(now.Loop ? "may close its loop" : "may no longer close its loop");
        }

        return parts;
    }

    // The unit once, where both have it.
    private static string Change(Gain old, Gain now) =>
        old.IsOff || now.IsOff ? $"{old} → {now}" : $"{old.ToString()[..^3]} → {now}";

    private static string Join(List<string> parts) => parts.Count == 0 ? "unchanged" : string.Join(", ", parts);

    private static string Pan(double pan)
    {
        var percent = Math.Round(Math.Abs(pan) * 100).ToString(CultureInfo.InvariantCulture);
        return pan switch { < 0 => $"{percent} % left", > 0 => $"{percent} % right", _ => "centre" };
    }

    private static string Signed(double value, string format) =>
        (value < 0 ? "−" : "") + Math.Abs(value).ToString(format, CultureInfo.InvariantCulture);
}
