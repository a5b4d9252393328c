using Kinetra.Core.Editing;

namespace Kinetra.Core.Tests.Engine;

public class ClipTests
{
    [Theory]
    [InlineData(1f)]
    [InlineData(-1f)]
    [InlineData(32_767f / 32_768)]
    public void What_clips_before_the_trim_is_counted_however_far_the_trim_lowers_it(float top)
    {
        var sound = new float[48_000];
        sound[1_000] = sound[1_001] = sound[5_000] = top;
        var rig = Demo.Rig("app").Apply(new SetSource(new("app"), Trim: new(-30)));
        var values = new Bench(rig, new() { ["app"] = new ArrayInlet(sound) }).Run(60).Meters();
        values[7].ShouldBe(2);
        values[6].ShouldBe(0);
    }
}
