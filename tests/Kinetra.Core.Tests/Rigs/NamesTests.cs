using System.Globalization;
using CsCheck;
using Kinetra.Core.Editing;

namespace Kinetra.Core.Tests.Rigs;

public class NamesTests
{
    [Fact]
    public void A_name_is_cut_between_characters_as_people_see_them()
    {
        Names.Cut("Sea mic", 60).ShouldBe("Sea mic");
        Names.Cut("Sea mic", 3).ShouldBe("Sea");
        Names.Cut("ab\U0001F600cd", 3).ShouldBe("ab");
        Names.Cut("ab\U0001F469\u200D\U0001F680cd", 6).ShouldBe("ab");
        Names.Cut("abe\u0301cd", 3).ShouldBe("ab");
        Gen.String[Gen.OneOf(Gen.Char['a', 'z'], Gen.Const('\u0301'), Gen.Const('\u200D'), Gen.Const('\u4E16')), 0, 30].Select(Gen.Int[0, 40]).Sample(
            (text, longest) =>
            {
                var cut = Names.Cut(text, longest);
                cut.Length.ShouldBeLessThanOrEqualTo(longest);
                text.ShouldStartWith(cut);
                var starts = StringInfo.ParseCombiningCharacters(text);
                (cut.Length == text.Length || starts.Contains(cut.Length)).ShouldBeTrue();

                // And no shorter than it must be.
                starts.Append(text.Length).Where(s => s <= longest).Max().ShouldBe(cut.Length);
            });
    }
}
