using System.Collections.Immutable;
using Kinetra.Core.Editing;
using Kinetra.Server.Live;

namespace Kinetra.Server.Hosting;

/// <summary>Problem details (RFC 9457) as every error of the API has them. For the API's description; <see cref="Problems"/> makes them.</summary>
/// <param name="Type">Where the status is described.</param>
/// <param name="Title">What kind of problem it is.</param>
/// <param name="Status">The status.</param>
/// <param name="Detail">All problems in one text.</param>
/// <param name="Problems">What is wrong, where, and what is allowed; at least one.</param>
/// <param name="TraceId">By what the request is found in the log.</param>
/// <param name="Current">With a conflict: the live show as it is.</param>
/// <param name="Step">With a conflict: the step that came between; null where it is so long ago that it is not known.</param>
/// <param name="Yours">With a change of what somebody else has changed since: the command.</param>
/// <param name="NotLive">True where the show that was meant is not the live one.</param>
public sealed record ProblemDocument(
    string Type, string Title, int Status, string Detail, ImmutableArray<RigProblem> Problems, string? TraceId = null, ShowDocument? Current = null,
    HistoryLine? Step = null, RigCommand? Yours = null, bool? NotLive = null)
{
    /// <summary>The statuses that any request may be answered with.</summary>
    public static readonly ImmutableArray<int> Statuses = [400, 401, 403, 404, 409, 413, 415, 422, 500, 503, 507];
}
