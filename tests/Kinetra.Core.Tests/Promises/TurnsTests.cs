using CsCheck;
using Kinetra.Core.Promises;

namespace Kinetra.Core.Tests.Promises;

public class TurnsTests
{
    [Fact]
    public void Nobody_waits_longer_than_for_all_others_to_have_had_their_turns_whoever_else_comes_and_goes() =>
        Gen.Select(Gen.Int[1, 8], Gen.Int[0, 6], Gen.Int[0, 20], Gen.Bool.Array[6].Array[200]).Sample((often, seldom, later, there) =>
        {
            var turns = new Turns<string>();
            var last = Enumerable.Range(0, often).ToDictionary(i => $"o{i}", _ => 0);
            for (var now = 1; now < there.Length; now++)
            {
                var coming = Enumerable.Range(0, seldom).Where(i => there[now][i]).Select(i => $"s{i}");
                var next = turns.Order(last.Keys, coming, 0, later).First();
                turns.Took(next, now);
                if (last.ContainsKey(next))
                {
                    last[next] = now;
                }

                // All who are looked at often once, and those who are seldom once between.
                last.Values.Min().ShouldBeGreaterThanOrEqualTo(now - often - seldom, $"{often} often, {seldom} seldom, {later}");
            }
        });

    [Fact]
    public void What_is_looked_at_seldom_has_its_turn_as_much_later_and_those_alike_go_by_their_names()
    {
        var turns = new Turns<string>();
        turns.Order(["b", "a"], ["x"], 10, 5).ShouldBe(["b", "a", "x"]);
        turns.Took("b", 12);
        turns.Took("a", 14);
        turns.Order(["b", "a"], ["x"], 10, 5).ShouldBe(["b", "a", "x"]);
        turns.Took("b", 16);
        turns.Took("a", 18);
        turns.Order(["b", "a"], ["x"], 10, 5).ShouldBe(["x", "b", "a"]);
        turns.Forget();
        turns.Order(["b", "a"], ["x"], 20, 5).ShouldBe(["b", "a", "x"]);
    }
}
