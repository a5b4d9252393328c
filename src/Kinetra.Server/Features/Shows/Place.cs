using System.ComponentModel.DataAnnotations;
using Kinetra.Core.Editing;
using Kinetra.Server.Hosting;
using ShowAnswer = Microsoft.AspNetCore.Http.HttpResults.Results<
    Microsoft.AspNetCore.Http.HttpResults.Ok<Kinetra.Server.Live.ShowDocument>, Microsoft.AspNetCore.Http.HttpResults.ProblemHttpResult>;

namespace Kinetra.Server.Features.Shows;

/// <summary>A place among others.</summary>
/// <param name="Index">From 0; beyond the last means last.</param>
public sealed record Place([property: Range(0, int.MaxValue)] int Index)
{
    /// <summary>Does something with the place, where it is one.</summary>
    internal async Task<ShowAnswer> DoAsync(Func<int, Task<ShowAnswer>> act) => Check(Index) is { } wrong ? Problems.Invalid([wrong]) : await act(Index);

    /// <summary>What is wrong with a place; left out, nothing is.</summary>
    internal static RigProblem? Check(int? index) => index < 0 ? new("index", $"{index} is no place.", "0 or more; beyond the last means last") : null;
}
