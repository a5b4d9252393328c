using Kinetra.Core.Planning;
using Kinetra.Core.Processors;
using Kinetra.Server.Hosting;

namespace Kinetra.Server.Features.Chains;

/// <summary>The key of a processor's type.</summary>
[AttributeUsage(AttributeTargets.Property)]
public sealed class ProcessorKeysAttribute : KeysAttribute
{
    /// <inheritdoc/>
    public override IEnumerable<string> Keys => ProcessorTypes.All.Select(t => t.Key);
}

/// <summary>The key of a whole chain to begin with.</summary>
[AttributeUsage(AttributeTargets.Property)]
public sealed class PresetKeysAttribute : KeysAttribute
{
    /// <inheritdoc/>
    public override IEnumerable<string> Keys => ChainPresets.All.Select(p => p.Key);
}
