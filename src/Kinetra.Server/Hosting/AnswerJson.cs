using System.Text.Json;
using System.Text.Json.Serialization;
using Kinetra.Core.Rigs;

namespace Kinetra.Server.Hosting;

/// <summary>How answers and messages are written: as rigs are, and with what is null.</summary>
static class AnswerJson
{
    public static void Configure(JsonSerializerOptions json)
    {
        RigJson.Configure(json);
        json.DefaultIgnoreCondition = JsonIgnoreCondition.Never;
    }
}
