using System.Text;
using System.Text.RegularExpressions;
using CsCheck;
using Kinetra.Core.Hands;

namespace Kinetra.Core.Tests.Hands;

public class OscTests
{
    [Fact]
    public void The_messages_that_the_standard_shows_are_read()
    {
        // The Open Sound Control 1.0 Specification, "Examples of OSC Messages".
        var first = OscPacket.Read(
            [0x2f, 0x6f, 0x73, 0x63, 0x69, 0x6c, 0x6c, 0x61, 0x74, 0x6f, 0x72, 0x2f, 0x34, 0x2f, 0x66, 0x72, 0x65, 0x71, 0x75, 0x65, 0x6e, 0x63, 0x79, 0, 0x2c, 0x66, 0, 0, 0x43, 0xdc, 0, 0],
            out var problem).ShouldHaveSingleItem();
        problem.ShouldBeNull();
        (first.Address, first.Arguments.ShouldHaveSingleItem()).ShouldBe(("/oscillator/4/frequency", 440.0));
        var second = OscPacket.Read(
            [
                0x2f, 0x66, 0x6f, 0x6f, 0, 0, 0, 0, 0x2c, 0x69, 0x69, 0x73, 0x66, 0x66, 0, 0, 0, 0, 0x03, 0xe8, 0xff, 0xff, 0xff, 0xff, 0x68, 0x65, 0x6c, 0x6c, 0x6f, 0, 0, 0,
                0x3f, 0x9d, 0xf3, 0xb6, 0x40, 0xb5, 0xb2, 0x2d,
            ],
            out _).ShouldHaveSingleItem();
        second.Address.ShouldBe("/foo");
        second.Arguments.Take(3).ShouldBe([1000.0, -1.0, "hello"]);
        ((double)second.Arguments[3]!).ShouldBe(1.234, 1e-6);
        ((double)second.Arguments[4]!).ShouldBe(5.678, 1e-6);
    }

    [Fact]
    public void Whatever_is_written_as_the_standard_says_is_read_as_it_was_written_bundles_in_bundles_too() => AnyElement(3).Sample(element =>
    {
        var messages = OscPacket.Read(element.Bytes, out var problem);
        problem.ShouldBeNull();
        messages.Select(m => m.Address).ShouldBe(element.Messages.Select(m => m.Address));
        messages.Zip(element.Messages).ShouldAllBe(m => m.First.Arguments.SequenceEqual(m.Second.Arguments) && m.First.Time == m.Second.Time);
    });

    [Fact]
    public void Whatever_bytes_come_they_are_read_or_told_to_be_wrong_and_nothing_else_happens()
    {
        Gen.Byte.Array[0, 80].Sample(Told, iter: 20_000);

        // And what was right but for a few bytes.
        Gen.Select(AnyElement(2), Gen.Int[0, 400], Gen.Byte, Gen.Int[0, 12]).Sample((element, at, value, cut) =>
        {
            var bytes = element.Bytes.ToArray();
            bytes[at % bytes.Length] = value;
            Told(bytes);
            Told(bytes[..Math.Max(0, bytes.Length - cut)]);
        }, iter: 20_000);
    }

    [Fact]
    public void Bundles_that_lie_too_deep_or_hold_too_much_are_refused()
    {
        var deep = Message("/a", "");
        for (var depth = 0; depth < 20; depth++)
        {
            deep = Bundle(1, deep);
        }

        OscPacket.Read(deep, out var problem).ShouldBeEmpty();
        problem!.What.ShouldContain("deep");
        OscPacket.Read(Bundle(1, [.. Enumerable.Repeat(Message("/a", ""), 300)]), out problem).ShouldBeEmpty();
        problem!.What.ShouldContain("256");
    }

    [Theory]
    [InlineData("/kinetra/pad/*/stop", "/kinetra/pad/bell/stop", true)]
    [InlineData("/kinetra/*/stop", "/kinetra/pad/bell/stop", false)]
    [InlineData("/kinetra/pad/{bell,gulls}/stop", "/kinetra/pad/gulls/stop", true)]
    [InlineData("/kinetra/pad/{bell,gulls}/stop", "/kinetra/pad/rope/stop", false)]
    [InlineData("/kinetra/pad/b[a-f]ll/stop", "/kinetra/pad/bell/stop", true)]
    [InlineData("/kinetra/pad/b[!a-f]ll/stop", "/kinetra/pad/bell/stop", false)]
    [InlineData("/kinetra/pad/b?ll/stop", "/kinetra/pad/bell/stop", true)]
    [InlineData("/kinetra/pad/bell/stop?", "/kinetra/pad/bell/stop", false)]
    [InlineData("/kinetra/pad/[bell/stop", "/kinetra/pad/bell/stop", false)]
    [InlineData("/kinetra/pad/{bell/stop", "/kinetra/pad/bell/stop", false)]
    public void A_pattern_means_what_the_standard_says(string pattern, string address, bool fits) => OscPattern.Fits(pattern, address).ShouldBe(fits);

    [Fact]
    public void A_pattern_means_what_a_regular_expression_of_it_means() =>
        Gen.Select(Pick("*", "?", "a", "b", "/", "[ab]", "[!a]", "[a-c]", "{a,bc}", "{,b}").Array[0, 7], Pick("a", "b", "c", "/").Array[0, 9]).Sample((parts, letters) =>
        {
            var (pattern, address) = (string.Concat(parts), string.Concat(letters));
            var regex = "^" + string.Concat(parts.Select(p => p switch
            {
                "*" => "[^/]*",
                "?" => "[^/]",
                "[!a]" => "[^a/]",
                "{a,bc}" => "(a|bc)",
                "{,b}" => "(|b)",
                _ => p,
            })) + "$";
            OscPattern.Fits(pattern, address).ShouldBe(Regex.IsMatch(address, regex), $"{pattern} {address}");
        }, iter: 20_000);

    [Fact]
    public void A_pattern_made_to_take_long_ends() =>
        OscPattern.Fits(string.Concat(Enumerable.Repeat("*a", 100)) + "b", new string('a', 350)).ShouldBeFalse();

    private static void Told(byte[] bytes)
    {
        var messages = OscPacket.Read(bytes, out var problem);
        if (problem is not null)
        {
            messages.ShouldBeEmpty();
            problem.Where.ShouldStartWith("byte ");
        }
    }

    private sealed record Written(byte[] Bytes, OscMessage[] Messages);

    private static Gen<Written> AnyElement(int depth) => depth == 0 ? AnyMessage : Gen.OneOf(AnyMessage, AnyMessage, AnyBundle(depth));

    private static Gen<Written> AnyBundle(int depth) => Gen.Select(Gen.ULong, AnyElement(depth - 1).Array[0, 4]).Select((tag, elements) => new Written(
        Bundle(tag, [.. elements.Select(e => e.Bytes)]),
        [.. elements.SelectMany(e => e.Bytes[0] == '#' ? e.Messages : e.Messages.Select(m => m with { Time = tag == 1 ? null : tag / Math.Pow(2, 32) }))]));

    private static readonly Gen<string> AnyText = Gen.OneOf(Gen.String[Gen.Char['a', 'z'], 0, 12], Pick("Möwen", "灯", ""));

    private static readonly Gen<(char Tag, byte[] Bytes, object? Value)> AnyArgument = Gen.OneOf(
        Gen.Int.Select(i => ('i', Big(BitConverter.GetBytes(i)), (object?)(double)i)),
        Gen.Float.Where(float.IsFinite).Select(f => ('f', Big(BitConverter.GetBytes(f)), (object?)(double)f)),
        Gen.Double.Where(double.IsFinite).Select(d => ('d', Big(BitConverter.GetBytes(d)), (object?)d)),
        AnyText.Select(s => ('s', Text(s), (object?)s)),
        Gen.Bool.Select(b => (b ? 'T' : 'F', Array.Empty<byte>(), (object?)b)),
        Gen.Byte.Array[0, 9].Select(b => ('b', (byte[])[.. Big(BitConverter.GetBytes(b.Length)), .. Padded(b)], (object?)null)),
        Gen.Const(('N', Array.Empty<byte>(), (object?)null)));

    private static readonly Gen<Written> AnyMessage = Gen.Select(AnyText, AnyArgument.Array[0, 5]).Select((name, arguments) => new Written(
        [.. Text("/" + name), .. Text("," + string.Concat(arguments.Select(a => a.Tag))), .. arguments.SelectMany(a => a.Bytes)],
        [new OscMessage("/" + name, [.. arguments.Select(a => a.Value)], null)]));

    private static Gen<string> Pick(params string[] words) => Gen.Int[0, words.Length - 1].Select(i => words[i]);

    private static byte[] Message(string address, string tags) => [.. Text(address), .. Text("," + tags)];

    private static byte[] Bundle(ulong tag, params byte[][] elements) =>
        [.. Text("#bundle"), .. Big(BitConverter.GetBytes(tag)), .. elements.SelectMany(e => (byte[])[.. Big(BitConverter.GetBytes(e.Length)), .. e])];

    private static byte[] Text(string text) => Padded([.. Encoding.UTF8.GetBytes(text), 0]);

    private static byte[] Padded(byte[] bytes) => [.. bytes, .. new byte[(4 - (bytes.Length % 4)) % 4]];

    private static byte[] Big(byte[] little) => [.. little.Reverse()];
}
