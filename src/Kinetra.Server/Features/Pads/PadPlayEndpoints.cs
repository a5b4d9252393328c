using Kinetra.Core.Pads;
using Kinetra.Core.Signal;
using Kinetra.Server.Features.Shows;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Pads;

/// <summary>Pads are played: for everybody who hears their source, or as a preview for oneself alone.</summary>
sealed class PadPlayEndpoints : IFeature
{
    public void MapTo(IEndpointRouteBuilder routes)
    {
        var show = routes.MapGroup(ShowEndpoints.Path);
        show.MapPost("/pads/{pad}/press", Press).WithName("pressPad").WithSummary("Presses a pad: it begins with the next block of sound.");
        show.MapPost("/pads/{pad}/release", Release).WithName("releasePad").WithSummary("Lets go of a pad that plays while it is held.");
        show.MapPost("/pads/{pad}/stop", StopOne).WithName("stopPad").WithSummary("Ends what sounds of a pad, with its fade.");
        show.MapPost("/pads/stop", Stop).WithName("stopPads").WithSummary("Ends all pads that sound, or those of a group.");
        show.MapGet("/pads/{pad}/preview", Preview).WithName("previewPad").WithSummary("A pad as it would sound, as WAV: for the ears that ask for it alone, and through no chain.");
    }

    /// <summary>Why a press plays nothing, as a sentence.</summary>
    public static string Words(PadSilence why) => why switch
    {
        PadSilence.NoSound => "Its sound is no longer in the data folder.",
        PadSilence.NoSource => "The source that it is heard through is gone: choose another.",
        PadSilence.TooMany => "Too many presses wait already.",
        PadSilence.Unknown => "There is no such pad in the live show.",
        _ => "",
    };

    private static Results<NoContent, ProblemHttpResult> Press(Guid show, string pad, PadPress? press, LiveShow live, PadBank bank)
    {
        if (OnLive(show, live) is { } no)
        {
            return no;
        }

        return bank.Press(new(pad), (float)new Gain(press?.Level ?? 0).Linear) switch
        {
            PadSilence.None => TypedResults.NoContent(),
            PadSilence.Unknown => Problems.NotFound("pad", $"There is no pad “{pad}”.", "a pad of the live show"),
            var why => Problems.Invalid("pad", Words(why), "a pad whose sound and source are there"),
        };
    }

    private static Results<NoContent, ProblemHttpResult> Release(Guid show, string pad, LiveShow live, PadBank bank)
    {
        if (OnLive(show, live) is { } no)
        {
            return no;
        }

        bank.Release(new(pad));
        return TypedResults.NoContent();
    }

    private static Results<NoContent, ProblemHttpResult> StopOne(Guid show, string pad, LiveShow live, PadBank bank)
    {
        if (OnLive(show, live) is { } no)
        {
            return no;
        }

        bank.Stop(new(pad));
        return TypedResults.NoContent();
    }

    private static Results<NoContent, ProblemHttpResult> Stop(Guid show, PadStop? stop, LiveShow live, PadBank bank)
    {
        if (OnLive(show, live) is { } no)
        {
            return no;
        }

        bank.Stop(null, string.IsNullOrEmpty(stop?.Group) ? null : stop.Group, stop?.Fade is { } fade ? ReadyPad.FrameOf(fade) : null);
        return TypedResults.NoContent();
    }

    private static Results<PushStreamHttpResult, ProblemHttpResult> Preview(Guid show, string pad, LiveShow live, PadBank bank)
    {
        var state = live.State;
        if (state.Show.Id != show)
        {
            return CommandAnswers.NotLive(state);
        }

        return bank.Find(new(pad)) is var (found, sound)
            ? TypedResults.Stream(new PadPreview(found, sound).WriteAsync, "audio/wav")
            : Problems.NotFound("pad", $"There is no pad “{pad}” whose sound is there.", "a pad of the live show");
    }

    private static ProblemHttpResult? OnLive(Guid show, LiveShow live) => live.State is var state && state.Show.Id == show ? null : CommandAnswers.NotLive(state);
}
