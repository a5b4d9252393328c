using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Engine;

public class FaultTests
{
    [Fact]
    public void A_source_that_fails_is_silent_and_named_once_and_the_rest_plays_on()
    {
        var noise = Signals.Noise(1, Signals.Rate);
        Dictionary<string, IInlet> Inlets(IInlet bad) => new() { ["bad"] = bad, ["good"] = new ArrayInlet(noise, noise) };
        var bench = new Bench(Demo.Rig("bad", "good"), Inlets(new Failing())).Run(40);
        var plain = new Bench(Demo.Rig("bad", "good"), Inlets(new ArrayInlet(new float[1]))).Run(40);
        bench.Left(Demo.Viewers)[2_560..].ShouldBe(plain.Left(Demo.Viewers)[2_560..]);
        bench.Engine.Faults.TryTake(out var fault).ShouldBeTrue();
        fault!.Point.ShouldBe(new SourcePoint(new("bad")));
        fault.Frame.ShouldBe(5 * AudioFormat.BlockFrames);
        fault.Cause.Message.ShouldBe("It broke.");
        bench.Engine.Faults.TryTake(out _).ShouldBeFalse();
    }

    // Full scale until it breaks in its sixth block.
    private sealed class Failing : IInlet
    {
        private int _blocks;

        public int Channels => 1;

        public bool BeginsWithSource => true;

        public void Read(long frame, Span<float> left, Span<float> right)
        {
            left.Fill(1);
            if (++_blocks > 5)
            {
                throw new InvalidOperationException("It broke.");
            }
        }

        public void Restart()
        {
        }
    }
}
