using CsCheck;
using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;

namespace Kinetra.Core.Tests.Rigs;

public class CableNamesTests
{
    [Theory]
    [InlineData("Guest line", "Guest lime", true)]
    [InlineData("Guest line", "guest-line", true)]
    [InlineData("Guest line", "Guest line 2", true)]
    [InlineData("Line 1", "Line 2", true)]
    [InlineData("Hafen", "Häfen", true)]
    [InlineData("Crew", "Cerw", true)]
    [InlineData("Guest line", "Air line", false)]
    [InlineData("Music", "Musical", false)]
    public void Names_that_could_be_read_as_one_another_are_close(string one, string other, bool close)
    {
        CableNames.AreClose(one, other).ShouldBe(close);
        CableNames.AreClose(other, one).ShouldBe(close);
    }

    [Fact]
    public void Close_is_what_one_change_or_two_letters_that_change_places_make_of_it()
    {
        // The judge: all that one change can make of a name.
        var few = Gen.String[Gen.Char['a', 'c'], 0, 6];
        Gen.Select(few, few).Sample((a, b) => CableNames.AreClose(a, b).ShouldBe(a == b || Changed(a).Contains(b)), iter: 3_000);
    }

    [Fact]
    public void The_two_ends_of_no_cable_are_close_to_one_another_and_each_says_which_one_it_is()
    {
        Gen.String[Gen.Char['a', 'z'], 1, 30].Sample(name => CableNames.AreClose(CableNames.Into(name), CableNames.OutOf(name)).ShouldBeFalse());
        var rig = new Rig { Cables = [new Cable { Id = new("a"), Name = "Guest line" }, new Cable { Id = new("b"), Name = "Guest lane" }, new Cable { Id = new("c"), Name = "Air line" }] };
        CableNames.Of(rig).ShouldBe(
        [
            new CableEnds(new("a"), "Into Guest line", "Out of Guest line", "Guest lane"),
            new CableEnds(new("b"), "Into Guest lane", "Out of Guest lane", "Guest line"),
            new CableEnds(new("c"), "Into Air line", "Out of Air line", null),
        ]);
    }

    private static IEnumerable<string> Changed(string name)
    {
        for (var i = 0; i <= name.Length; i++)
        {
            foreach (var letter in "abc")
            {
                yield return name.Insert(i, $"{letter}");
                if (i < name.Length)
                {
                    yield return name.Remove(i, 1).Insert(i, $"{letter}");
                }
            }

            if (i < name.Length)
            {
                yield return name.Remove(i, 1);
            }

            if (i < name.Length - 1)
            {
                yield return name[..i] + name[i + 1] + name[i] + name[(i + 2)..];
            }
        }
    }
}
