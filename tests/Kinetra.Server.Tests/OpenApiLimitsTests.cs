using System.Text.Json.Nodes;

namespace Kinetra.Server.Tests;

/// <summary>The limits that the OpenAPI document states are those that hold.</summary>
public sealed class OpenApiLimitsTests(RunningServer server) : IClassFixture<RunningServer>, IAsyncLifetime
{
    /// <summary>A request that is done as it stands, for each body of the API.</summary>
    public static TheoryData<string, string, string, string> Requests => new()
    {
        { "ClockStep", "POST", "/api/clock/steps", """{"frames":256}""" },
        { "NewShowRequest", "POST", "/api/shows", """{"name":"One more"}""" },
        { "ShowName", "PATCH", "/api/shows/LIVE", """{"name":"Other"}""" },
        { "NewTake", "POST", "/api/takes", """{"name":"One"}""" },
        { "NewCable", "POST", "/api/shows/LIVE/cables", """{"name":"Long","channels":2,"bufferFrames":0}""" },
        { "CableChange", "PATCH", "/api/shows/LIVE/cables/CABLE", """{"name":"Long","channels":2,"bufferFrames":0}""" },
        { "NewFeed", "POST", "/api/shows/LIVE/cables/CABLE/feeds", """{"from":"source/sea-mic","gain":0,"into":{"left":0,"right":1}}""" },
        { "NewRecorder", "POST", "/api/shows/LIVE/cables/CABLE/sources", """{"left":0,"right":1,"name":"Tape"}""" },
        { "NewProcessor", "POST", "/api/shows/LIVE/sources/sea-mic/chain", """{"type":"lowCut","index":0,"keys":[]}""" },
        { "NewChain", "PUT", "/api/shows/LIVE/mixes/viewers/chain", """{"preset":"mixSafety"}""" },
        { "Place", "PUT", "/api/shows/LIVE/mixes/viewers/place", """{"index":0}""" },
        { "Place", "PUT", "/api/shows/LIVE/sources/sea-mic/place", """{"index":0}""" },
        { "NewMicrophone", "POST", "/api/shows/LIVE/microphones", """{"client":"c","device":"d","label":"x","voices":[{"left":0,"right":1,"name":"Ann"}]}""" },
        { "MixChange", "PATCH", "/api/shows/LIVE/mixes/viewers", """{"name":"All","gain":0,"targetLufs":-16}""" },
        { "NewMix", "POST", "/api/shows/LIVE/mixes", """{"name":"More","purpose":"Other","copyOf":"viewers"}""" },
        { "SendChange", "PATCH", "/api/shows/LIVE/mixes/viewers/sends/sea-mic", """{"gain":0,"pan":0.5}""" },
        { "SourceChange", "PATCH", "/api/shows/LIVE/sources/sea-mic", """{"name":"Sea","trim":0,"look":{"color":0,"shape":0}}""" },
        { "WhichStep", "POST", "/api/shows/LIVE/undo", """{"step":1}""" },
    };

    public ValueTask InitializeAsync() => server.OpenFreshShowAsync();

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public async Task Every_number_text_and_list_that_can_be_sent_states_its_limits()
    {
        var document = await DocumentAsync();
        var bodies = document["paths"]!.AsObject().SelectMany(p => p.Value!.AsObject())
            .Select(o => (o.Value as JsonObject)?["requestBody"]?["content"]?["application/json"]?["schema"]?["$ref"])
            .OfType<JsonNode>().Select(r => NameOf((string)r!)).Distinct().ToList();
        bodies.Count.ShouldBeGreaterThan(18);
        var unlimited = bodies.SelectMany(b => Fields(document, b, "")).Where(f => !IsLimited(f.Schema)).Select(f => f.Path).ToList();
        unlimited.ShouldBeEmpty();
    }

    [Theory]
    [MemberData(nameof(Requests))]
    public async Task What_a_limit_allows_is_taken_and_what_lies_beyond_it_is_refused_by_its_field(string schema, string method, string path, string body)
    {
        if (path.Contains("CABLE", StringComparison.Ordinal))
        {
            var (_, show) = await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/cables", """{"channels":16}""");
            path = path.Replace("CABLE", (string)show["cables"]![0]!["id"]!, StringComparison.Ordinal);
        }

        var document = await DocumentAsync();
        var whole = JsonNode.Parse(body)!;
        foreach (var (at, field) in Fields(document, schema, ""))
        {
            if (ValueAt(whole, at) is null)
            {
                continue;
            }

            foreach (var (value, isAllowed) in Borders(field))
            {
                var sent = whole.DeepClone();
                Set(sent, at, value);
                var (status, answer) = await server.SendAsync(new HttpMethod(method), path, sent.ToJsonString());
                var what = $"{at} = {value?.ToJsonString()}: {status} {answer.ToJsonString()}";
                if (isAllowed)
                {
                    // Something else may be wrong with it: a channel that is left twice, a step that is not the next.
                    status.ShouldNotBe(400, what);
                    status.ShouldNotBe(500, what);
                    if (status == 422 && !at.EndsWith("left", StringComparison.Ordinal) && !at.EndsWith("right", StringComparison.Ordinal))
                    {
                        var name = at[(at.LastIndexOf('/') + 1)..];
                        answer["problems"]!.AsArray().ShouldAllBe(p => !((string)p!["where"]!).EndsWith(name, StringComparison.OrdinalIgnoreCase), what);
                    }
                }
                else
                {
                    status.ShouldBeOneOf([400, 404, 409, 422], what);
                }
            }

            await EndTakeAsync();
        }
    }

    private async Task EndTakeAsync() => await server.SendAsync(HttpMethod.Post, "/api/takes/current/stop");

    private async Task<JsonNode> DocumentAsync() => (await server.SendAsync(HttpMethod.Get, "/api/openapi.json")).Body;

    private static string NameOf(string reference) => reference.Split('/')[^1];

    // All fields of a schema, those of what it holds too.
    private static IEnumerable<(string Path, JsonObject Schema)> Fields(JsonNode document, string schema, string before)
    {
        foreach (var (name, field) in document["components"]!["schemas"]![schema]!["properties"]?.AsObject() ?? [])
        {
            var path = before + name;
            var own = field!.AsObject();
            yield return (path, own);
            var inner = own["$ref"] ?? own["oneOf"]?.AsArray().Select(o => o!["$ref"]).FirstOrDefault(r => r is not null) ?? own["items"]?["$ref"];
            if (inner is not null)
            {
                foreach (var more in Fields(document, NameOf((string)inner!), own["items"] is null ? $"{path}/" : $"{path}/0/"))
                {
                    yield return more;
                }
            }
        }
    }

    private static bool IsLimited(JsonObject schema)
    {
        var types = schema["type"] is JsonArray several ? several.Select(t => (string)t!).ToList() : schema["type"] is { } one ? [(string)one!] : [];
        return types.All(type => type switch
        {
            "integer" or "number" => schema["minimum"] is not null && schema["maximum"] is not null,
            "string" => schema["maxLength"] is not null || schema["pattern"] is not null || schema["enum"] is not null || schema["format"] is not null,
            "array" => schema["maxItems"] is not null,

            // Parameters of processors: each has its own range, which /api/processors states.
            _ => true,
        });
    }

    private static IEnumerable<(JsonNode? Value, bool IsAllowed)> Borders(JsonObject schema)
    {
        if (schema["minimum"] is { } minimum && schema["maximum"] is { } maximum)
        {
            yield return (minimum.DeepClone(), true);
            yield return ((decimal)minimum - 1, false);
            if ((decimal)maximum < int.MaxValue)
            {
                // Ten minutes of sound are computed where that is what is asked for.
                if ((decimal)maximum < 1_000_000)
                {
                    yield return (maximum.DeepClone(), true);
                }

                yield return ((decimal)maximum + 1, false);
            }
        }

        if (schema["maxLength"] is { } longest)
        {
            yield return (new string('n', (int)longest), true);
            yield return (new string('n', (int)longest + 1), false);
            yield return ("", false);
        }

        if (schema["enum"] is not null)
        {
            yield return ("nonsense", false);
        }

        if (schema["pattern"] is not null && schema["type"]?.ToJsonString().Contains("string", StringComparison.Ordinal) == true)
        {
            yield return ("Not An Id", false);
        }
    }

    private static JsonNode? ValueAt(JsonNode whole, string path) =>
        path.Split('/').Aggregate((JsonNode?)whole, (node, step) => node is JsonArray list ? list.ElementAtOrDefault(int.Parse(step, System.Globalization.CultureInfo.InvariantCulture)) : node is JsonObject all ? all[step] : null);

    private static void Set(JsonNode whole, string path, JsonNode? value)
    {
        var steps = path.Split('/');
        var at = steps[..^1].Aggregate(whole, (node, step) => node is JsonArray list ? list[int.Parse(step, System.Globalization.CultureInfo.InvariantCulture)]! : node[step]!);
        at[steps[^1]] = value;
    }
}
