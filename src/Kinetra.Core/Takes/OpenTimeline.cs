using System.Text.Json;
using System.Text.Json.Nodes;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Takes;

/// <summary>
/// A take's time line as OpenTimelineIO writes it, JSON: what is kept of each file on a track of its own, in frames at 48 kHz, and the marks
/// on the whole. Files are named by where they lie beside the document.
/// </summary>
public static class OpenTimeline
{
    private static readonly JsonSerializerOptions Options = new() { WriteIndented = true };

    /// <summary>The document.</summary>
    public static string Of(TimeLine take)
    {
        ArgumentNullException.ThrowIfNull(take);
        var stack = Item("Stack.1", "tracks");
        stack["markers"] = new JsonArray([.. take.Marks.Select((m, place) => (JsonNode)MarkerOf(m, place))]);
        stack["children"] = new JsonArray([.. take.Tracks.Select(t => (JsonNode)TrackOf(t, take))]);
        var document = new JsonObject
        {
            ["OTIO_SCHEMA"] = "Timeline.1",
            ["metadata"] = new JsonObject(),
            ["name"] = take.Name,
            ["global_start_time"] = null,
            ["tracks"] = stack,
        };
        return document.ToJsonString(Options);
    }

    private static JsonObject TrackOf(TimeLineTrack track, TimeLine take)
    {
        var clip = Item("Clip.2", track.Name);
        clip["source_range"] = Range(take.From, take.Frames);
        clip["media_references"] = new JsonObject
        {
            ["DEFAULT_MEDIA"] = new JsonObject
            {
                ["OTIO_SCHEMA"] = "ExternalReference.1",
                ["metadata"] = new JsonObject(),
                ["name"] = track.FileName,
                ["available_range"] = Range(0, take.FileFrames ?? take.Frames),
                ["available_image_bounds"] = null,
                ["target_url"] = Uri.EscapeDataString(track.FileName),
            },
        };
        clip["active_media_reference_key"] = "DEFAULT_MEDIA";
        var whole = Item("Track.1", track.Name);
        whole["children"] = new JsonArray(clip);
        whole["kind"] = "Audio";
        return whole;
    }

    private static JsonObject MarkerOf(TimeLineMark mark, int place) => new()
    {
        ["OTIO_SCHEMA"] = "Marker.2",
        ["metadata"] = new JsonObject(),
        ["name"] = mark.Called(place),
        ["color"] = mark.ByProgram ? "YELLOW" : "GREEN",
        ["marked_range"] = Range(mark.Frame, 0),
        ["comment"] = "",
    };

    private static JsonObject Item(string schema, string name) => new()
    {
        ["OTIO_SCHEMA"] = schema,
        ["metadata"] = new JsonObject(),
        ["name"] = name,
        ["source_range"] = null,
        ["effects"] = new JsonArray(),
        ["markers"] = new JsonArray(),
        ["enabled"] = true,
    };

    private static JsonObject Range(long from, long frames) => new()
    {
        ["OTIO_SCHEMA"] = "TimeRange.1",
        ["duration"] = Time(frames),
        ["start_time"] = Time(from),
    };

    private static JsonObject Time(long frames) => new()
    {
        ["OTIO_SCHEMA"] = "RationalTime.1",
        ["rate"] = (double)AudioFormat.SampleRate,
        ["value"] = (double)frames,
    };
}
