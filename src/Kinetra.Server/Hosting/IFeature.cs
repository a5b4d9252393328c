namespace Kinetra.Server.Hosting;

/// <summary>
/// A part of what the server offers: what it needs, and where it is reached. Whatever class of this program implements it, and can be made
/// without arguments, is there; nobody lists them.
/// </summary>
public interface IFeature
{
    /// <summary>Says what the part is made of.</summary>
    void AddTo(IServiceCollection services, ServerOptions options)
    {
    }

    /// <summary>Says where it is reached, below <c>/api</c>.</summary>
    void MapTo(IEndpointRouteBuilder routes)
    {
    }

    /// <summary>Says where other programs reach it, beside <c>/api</c>.</summary>
    void MapBeside(IEndpointRouteBuilder routes)
    {
    }

    /// <summary>All of them, by name, so that every start is the same.</summary>
    static IReadOnlyList<IFeature> All { get; } =
    [
        .. typeof(IFeature).Assembly.GetTypes()
            .Where(t => t.IsClass && !t.IsAbstract && t.IsAssignableTo(typeof(IFeature)))
            .OrderBy(t => t.FullName, StringComparer.Ordinal)
            .Select(t => (IFeature)Activator.CreateInstance(t)!),
    ];
}
