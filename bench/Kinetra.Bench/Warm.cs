using System.Diagnostics;

namespace Kinetra.Bench;

/// <summary>Lets the runtime compile what is going to be measured at its best: that happens beside, and takes some tenths of a second.</summary>
static class Warm
{
    private static readonly TimeSpan Enough = TimeSpan.FromMilliseconds(700);

    public static void Up(Action what)
    {
        var begun = Stopwatch.GetTimestamp();
        while (Stopwatch.GetElapsedTime(begun) < Enough)
        {
            what();
        }
    }

    /// <summary>What so many runs of it say, once it is warm.</summary>
    public static T[] Runs<T>(int count, Func<T> what)
    {
        Up(() => what());
        var all = new T[count];
        for (var i = 0; i < count; i++)
        {
            all[i] = what();
        }

        return all;
    }
}
