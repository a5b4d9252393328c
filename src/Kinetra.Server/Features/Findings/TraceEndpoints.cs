using System.Collections.Immutable;
using System.ComponentModel.DataAnnotations;
using Kinetra.Core.Findings;
using Kinetra.Core.Signal;
using Kinetra.Server.Features.Shows;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Findings;

/// <summary>One stretch of a way.</summary>
/// <param name="To">Where it leads.</param>
/// <param name="Name">What that is called.</param>
/// <param name="What">What happens on it, in a word or two.</param>
/// <param name="GainDb">What the sound gains on it, dB at 1 kHz.</param>
/// <param name="DelayMs">By how much later it is after it, ms.</param>
/// <param name="Cut">What would end it; null: nobody can.</param>
public sealed record HopReport(Point To, string Name, string What, double GainDb, double DelayMs, string? Cut);

/// <summary>One way of a sound to a listener.</summary>
/// <param name="Hops">Stretch by stretch.</param>
/// <param name="GainDb">What it gains from end to end, dB.</param>
/// <param name="DelayMs">How late it is there, ms.</param>
public sealed record WayReport(ImmutableArray<HopReport> Hops, double GainDb, double DelayMs);

/// <summary>How a source comes to a listener, or why not.</summary>
/// <param name="What">The source's name.</param>
/// <param name="Listener">The listener's name.</param>
/// <param name="Count">How many ways there are, listed or not.</param>
/// <param name="Ways">The strongest first.</param>
/// <param name="Sentence">The same in words.</param>
/// <param name="Open">Where nothing comes: what would let it be heard; null: no change of the show alone.</param>
public sealed record TraceDocument(string What, string Listener, double Count, ImmutableArray<WayReport> Ways, string Sentence, string? Open);

/// <summary>The change of a traced way that is wanted.</summary>
/// <param name="Source">The source.</param>
/// <param name="Listener">The listener.</param>
/// <param name="Label">What ends a stretch of it, or lets it be heard, as the trace tells it.</param>
public sealed record WantedCut(SourceId Source, Point Listener, [property: MaxLength(400)] string Label);

/// <summary>The answer to "why do I hear this here?", and to "why not?".</summary>
sealed class TraceEndpoints : IFeature
{
    public void MapTo(IEndpointRouteBuilder routes)
    {
        var trace = routes.MapGroup(ShowEndpoints.Path + "/trace");
        trace.MapGet("", TraceOf).WithName("traceSound").WithSummary("Every way of a source to a listener, stretch by stretch; or why it is not heard there.");
        trace.MapGet("/effect", CutEffect).WithName("getCutEffect").WithSummary("What ending a stretch of a way, or opening one, would change; it changes nothing yet.");
        trace.MapPost("/cut", CutAsync).WithName("cutWay").WithSummary("Ends a stretch of a way, or opens what is shut on one.");
    }

    private static Results<Ok<TraceDocument>, ProblemHttpResult> TraceOf(Guid show, string source, string listener, FindingsNow findings)
    {
        var looked = findings.Look();
        if (looked.State.Show.Id != show)
        {
            return CommandAnswers.NotLive(looked.State);
        }

        if (Point.Parse(listener) is not { } point)
        {
            return Problems.Invalid([new("listener", "This is no point of the signal.", Point.Allowed)]);
        }

        if (looked.Trace(new(source), point) is not { } trace)
        {
            return Problems.NotFound("listener", "The show has no such source, or there is no such listener now.", "a source of the show, and a mix, a cable, an input of a program that runs, or a device that is there");
        }

        return TypedResults.Ok(new TraceDocument(
            trace.What,
            trace.Listener,
            trace.Count,
            [.. trace.Ways.Select(w => new WayReport([.. w.Hops.Select(h => new HopReport(h.To, h.Name, h.What, Round(h.GainDecibels), Milliseconds(h.DelayFrames), h.Cut?.Label))], Round(w.GainDecibels), Milliseconds(w.DelayFrames)))],
            trace.Sentence,
            trace.Open?.Label));

        static double Round(double decibels) => Math.Round(decibels, 2);

        static double Milliseconds(int frames) => Math.Round(frames * 1_000.0 / AudioFormat.SampleRate, 2);
    }

    private static Results<Ok<FixEffect>, ProblemHttpResult> CutEffect(Guid show, string source, string listener, string label, FindingsNow findings) =>
        Fixing.Effect(show, findings, looked => Point.Parse(listener) is { } point ? Find(looked, new(new(source), point, label)) : null, null);

    private static Task<Results<Ok<ShowDocument>, ProblemHttpResult>> CutAsync(
        WantedCut wanted, FindingsNow findings, ShowCommands commands, LiveShow live, LiveGear gear, [AsParameters] CommandCall call) =>
        Fixing.DoAsync(call, findings, commands, live, gear, looked => Find(looked, wanted));

    private static Fix? Find(Looked looked, WantedCut wanted) => looked.Trace(wanted.Source, wanted.Listener) is { } trace
        ? trace.Ways.SelectMany(w => w.Hops).Select(h => h.Cut).Append(trace.Open).FirstOrDefault(f => f?.Label == wanted.Label)
        : null;
}
