using System.Text.Json;
using System.Text.Json.Serialization;
using System.Text.Json.Serialization.Metadata;

namespace Kinetra.Core.Rigs;

/// <summary>How rigs and commands are written as JSON, in one place: stored documents, API and show files agree.</summary>
public static class RigJson
{
    /// <summary>camelCase names, enumerations as words, unknown members refused.</summary>
    public static readonly JsonSerializerOptions Options = Configure(new JsonSerializerOptions { TypeInfoResolver = new DefaultJsonTypeInfoResolver() });

    /// <summary>Applies the same rules to other options.</summary>
    public static JsonSerializerOptions Configure(JsonSerializerOptions options)
    {
        ArgumentNullException.ThrowIfNull(options);
        options.PropertyNamingPolicy = JsonNamingPolicy.CamelCase;
        options.UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow;
        options.DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull;
        options.NumberHandling = JsonNumberHandling.Strict;
        options.AllowOutOfOrderMetadataProperties = true;
        return options;
    }
}
