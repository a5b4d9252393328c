using Microsoft.AspNetCore.Http.Metadata;
using Microsoft.OpenApi;

namespace Kinetra.Server.Hosting;

/// <summary>
/// The description of the API works out what an answer looks like anew for each operation that gives it. Two answers nearly all of them give, and one is
/// large: of each, one operation has it worked out, and the others point to what came of that. Otherwise a build takes minutes.
/// </summary>
static class SharedAnswers
{
    private static readonly (Type Answer, Type StandIn, string WorkedOutBy)[] All =
    [
        (typeof(Live.ShowDocument), typeof(ShowStandIn), "getShow"),
        (typeof(ProblemDocument), typeof(ProblemStandIn), "getStatus"),
    ];

    /// <summary>Puts what stands for it in the place of an answer, in all operations but one.</summary>
    public static void PutStandIns(EndpointBuilder endpoint)
    {
        ArgumentNullException.ThrowIfNull(endpoint);
        var name = endpoint.Metadata.OfType<IEndpointNameMetadata>().LastOrDefault()?.EndpointName;
        for (var i = 0; i < endpoint.Metadata.Count; i++)
        {
            if (endpoint.Metadata[i] is IProducesResponseTypeMetadata { Type: { } type } produced && Array.Find(All, s => s.Answer == type) is { StandIn: { } standIn } shared && shared.WorkedOutBy != name)
            {
                endpoint.Metadata[i] = new ProducesResponseTypeMetadata(produced.StatusCode, standIn, [.. produced.ContentTypes]);
            }
        }
    }

    /// <summary>Lets every operation point to the answer itself.</summary>
    public static void TakeStandInsOut(OpenApiDocument document)
    {
        ArgumentNullException.ThrowIfNull(document);
        foreach (var content in document.Paths.Values.SelectMany(p => p.Operations?.Values.AsEnumerable() ?? []).SelectMany(o => o.Responses?.Values.AsEnumerable() ?? []).SelectMany(r => r.Content?.Values.AsEnumerable() ?? []))
        {
            if (content is OpenApiMediaType media && media.Schema is OpenApiSchemaReference { Reference.Id: { } id } && Array.Find(All, s => s.StandIn.Name == id) is { Answer: { } answer })
            {
                media.Schema = new OpenApiSchemaReference(answer.Name, document);
            }
        }

        foreach (var shared in All)
        {
            document.Components?.Schemas?.Remove(shared.StandIn.Name);
        }
    }

    private sealed record ShowStandIn(bool Is);

    private sealed record ProblemStandIn(bool Is);
}
