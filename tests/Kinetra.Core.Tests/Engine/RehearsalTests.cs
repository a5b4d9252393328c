using Kinetra.Core.Engine;

namespace Kinetra.Core.Tests.Engine;

public class RehearsalTests
{
    [Fact]
    public void Every_step_of_the_rehearsal_is_one_that_an_engine_takes() => Should.NotThrow(Rehearsal.Run);
}
