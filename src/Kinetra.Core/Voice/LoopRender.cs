using System.Collections.Immutable;
using Kinetra.Core.Engine;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Voice;

/// <summary>What becomes of a loop in a chain, all of it at once, beside every engine.</summary>
public static class LoopRender
{
    private const int Block = AudioFormat.BlockFrames;

    // Long enough for every level that a processor follows to have settled.
    private const int MostBefore = 10 * AudioFormat.SampleRate;

    /// <summary>One time round, as it sounds when it has gone round before; as long as the loop, and in step with it whatever look-ahead there is.</summary>
    /// <param name="loop">What goes round.</param>
    /// <param name="chain">Through what.</param>
    /// <param name="beside">What the processors hear that listen to somebody else, as long; null: nobody.</param>
    /// <param name="cancel">Ends it.</param>
    public static SoundBuffer Render(SoundBuffer loop, ImmutableArray<Processor> chain, SoundBuffer? beside = null, CancellationToken cancel = default)
    {
        ArgumentNullException.ThrowIfNull(loop);
        var variant = new BenchVariant(new("rendered"), "rendered", chain);
        var bench = new LoopBench(loop, [variant], beside is null ? null : new SoundBeside(beside));
        var point = new SourcePoint(variant.Id);
        using var tap = bench.Engine.Hold(point);

        // From a place in the loop such that, once all has settled, its beginning comes.
        var rounds = ((Math.Min(MostBefore, loop.Frames) - 1) / loop.Frames) + 1;
        var from = ((long)rounds * loop.Frames) + bench.Engine.Plan.LatencyOf(point);
        var (left, right) = (new float[loop.Frames], loop.Right is null ? null : new float[loop.Frames]);
        var position = from;
        for (var done = 0; done < loop.Frames;)
        {
            cancel.ThrowIfCancellationRequested();
            bench.Engine.ProcessBlock();
            if (tap.Ring.End > position)
            {
                var count = (int)Math.Min(Block, loop.Frames - done);
                done += tap.Ring.Read(ref position, left.AsSpan(done, count), right is null ? new float[count] : right.AsSpan(done, count), out _);
            }
        }

        return new SoundBuffer(left, right);
    }
}
