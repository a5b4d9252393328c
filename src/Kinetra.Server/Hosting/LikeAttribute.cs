namespace Kinetra.Server.Hosting;

/// <summary>A field of a request that is held to the same limits as a field of the show: OpenAPI states them from there.</summary>
/// <param name="of">A type of the rig.</param>
/// <param name="name">The field, as it is called in JSON.</param>
[AttributeUsage(AttributeTargets.Property | AttributeTargets.Parameter)]
public sealed class LikeAttribute(Type of, string name) : Attribute
{
    /// <summary>A type of the rig.</summary>
    public Type Of => of;

    /// <summary>The field, as it is called in JSON.</summary>
    public string Field => name;
}

/// <summary>A field that names one of a few keys.</summary>
[AttributeUsage(AttributeTargets.Property)]
public abstract class KeysAttribute : Attribute
{
    /// <summary>The keys that there are.</summary>
    public abstract IEnumerable<string> Keys { get; }
}
