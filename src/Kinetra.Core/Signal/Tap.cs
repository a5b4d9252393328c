using System.Text.Json.Serialization;

namespace Kinetra.Core.Signal;

/// <summary>Where on its way a source's or a mix's sound is taken.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<Tap>))]
public enum Tap
{
    /// <summary>After the chain.</summary>
    AfterChain,

    /// <summary>Before it: after the trim of a source, after the gain of a mix.</summary>
    BeforeChain,

    /// <summary>As it comes in: before the trim of a source, before the gain of a mix.</summary>
    Raw,
}
