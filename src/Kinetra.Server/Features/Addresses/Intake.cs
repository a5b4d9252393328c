using System.IO.Pipelines;

namespace Kinetra.Server.Features.Addresses;

/// <summary>
/// Takes in what somebody sends as soon as it comes, up to a limit. Many a program goes without having read the last that it was answered, and
/// its connection is then reset: what had arrived by then, and was not taken, would be lost, the last words among it.
/// </summary>
static class Intake
{
    // A minute of most sound; of what needs more room, some seconds.
    private const long Most = 2 << 20;

    /// <summary>What comes, until it ends or breaks off.</summary>
    /// <param name="from">Where it comes from.</param>
    /// <param name="over">It is to end.</param>
    public static Stream Of(Stream from, CancellationToken over)
    {
        var pipe = new Pipe(new PipeOptions(pauseWriterThreshold: Most, resumeWriterThreshold: Most / 2));
        _ = PassAsync(from, pipe.Writer, over);
        return pipe.Reader.AsStream();
    }

    private static async Task PassAsync(Stream from, PipeWriter to, CancellationToken over)
    {
        try
        {
            await from.CopyToAsync(to, over);
        }
        catch (Exception e) when (e is IOException or OperationCanceledException or ObjectDisposedException or InvalidOperationException)
        {
            // It ends here, however it came to that.
        }
        finally
        {
            await to.CompleteAsync();
        }
    }
}
