using System.Collections.Immutable;

namespace Kinetra.Core.Hands;

/// <summary>
/// All that can be done by hand: the one table from which keys, controllers, Open Sound Control, HTTP commands, the palette and the documentation are made.
/// </summary>
public static class ActionTable
{
    /// <summary>All of it, in the order in which it is shown.</summary>
    public static ImmutableArray<ActionType> All { get; } =
    [
        new("hush", "Hush: silence for every listener, and back", ActionValue.Switch, Keys: "h"),
        new("record", "Record, and end the take", ActionValue.Switch, Keys: "r"),
        new("pause", "Pause the take, or go on with it", ActionValue.Switch),
        new("mark", "Mark this moment of the take"),
        new("undo", "Undo the last step", Keys: "Ctrl+z"),
        new("redo", "Do again what was undone", Keys: ["Ctrl+Shift+z", "Ctrl+y"]),

        new("pad/{pad}/press", "Press the pad {pad}", ActionValue.Held),
        new("pad/{pad}/stop", "End the pad {pad}, with its fade"),
        new("pads/stop", "End all pads, with their fades"),
        new("pads/set/{set}", "Take the set {set} in hand"),
        new("cue/next", "Cues: begin the next one", Keys: "PageDown"),
        new("cue/back", "Cues: make the one before the next", Keys: "PageUp"),
        new("cue/first", "Cues: back to the first"),
        new("cue/hold", "Cues: hold, so that none follows by itself", ActionValue.Switch),
        new("cue/{cue}/ready", "Cues: make {cue} the next"),

        new("source/{source}/cough", "Cough: while held, {source} reaches nobody but My ears", ActionValue.Held),
        new("source/{source}/talk/{mix}", "Talkback: while held, {source} reaches {mix} alone", ActionValue.Held),

        new("mix/{mix}/source/{source}/level", "Level of {source} in {mix}", ActionValue.Decibels),
        new("mix/{mix}/source/{source}/step", "Level of {source} in {mix} up or down", ActionValue.Step),
        new("mix/{mix}/source/{source}/mute", "Mute {source} in {mix}, or end that", ActionValue.Switch),
        new("mix/{mix}/source/{source}/dock", "Dock {source} in {mix}, or let it be heard there", ActionValue.Switch),
        new("mix/{mix}/level", "Level of the mix {mix}", ActionValue.Decibels),
        new("mix/{mix}/step", "Level of the mix {mix} up or down", ActionValue.Step),
        new("mix/{mix}/out", "Let {mix} go to its destinations, or to none", ActionValue.Switch),
        new("source/{source}/trim", "Trim of {source}", ActionValue.Decibels),
        new("source/{source}/bypass", "Bypass the chain of {source}, or let it work", ActionValue.Switch),
        new("source/{source}/play", "Play the sound file {source} from its beginning"),

        new("app/{app}/play", "Let the program {app} play, or pause it", ActionValue.Switch),
        new("app/{app}/run", "Start the program {app}, or end it", ActionValue.Switch),
        new("gear/set", "Set the computer as the show wants it"),
        new("gear/put-back", "Put the computer back as it stood before the show"),
        new("show/{show}/open", "Open the show {show}"),

        new("go/{screen}", "Go to {screen}", Place: ActionPlace.Window),
        new("listen/{mix}", "Listen to {mix}, or to nothing", Place: ActionPlace.Window),
        new("listen/place/{place}", "Listen to mix {place}, or to nothing", Place: ActionPlace.Window),
        new("listen/off", "Listen to nothing", Place: ActionPlace.Window, Keys: "0"),
        new("listen/source/{source}", "Listen to {source} alone, or to nothing", Place: ActionPlace.Window),
        new("palette", "Find something to do, and do it", Place: ActionPlace.Window, Keys: "Ctrl+k"),
        new("keys", "Show all keys", Place: ActionPlace.Window, Keys: "?"),
        new("hands", "Choose keys, controllers, messages and second screens", Place: ActionPlace.Window),
        new("close", "Close what is open at the side", Place: ActionPlace.Window, Keys: "Escape"),
        new("small", "Open or close the small window that stays on top", Place: ActionPlace.Window),
        new("scale/larger", "Show everything larger", Place: ActionPlace.Window),
        new("scale/smaller", "Show everything smaller", Place: ActionPlace.Window),
        new("scale/normal", "Show everything as large as it comes", Place: ActionPlace.Window),
    ];
}
