using Kinetra.Server.Hosting;
using Kinetra.Server.Sockets;

namespace Kinetra.Server.Tests;

/// <summary>What the page knows of messages and meters is written from the server's own types.</summary>
public class LiveTypesTests
{
    private readonly string _text = LiveTypes.TypeScript();

    [Fact]
    public void Every_message_of_the_hub_is_there_in_both_directions_and_nothing_that_is_none()
    {
        foreach (var name in typeof(IShowClient).GetMethods().Select(m => m.Name).Concat(["PreviewSend", "EndPreview", "PreviewProcessor", "MicrophoneAbsent"]))
        {
            _text.ShouldContain($"\n  {name}: [");
        }

        _text.ShouldNotContain("Connected");
    }

    [Theory]
    [InlineData("SendPreviewed: [mix: string, source: string, gain: number | \"off\"];")]
    [InlineData("PreviewProcessor: [show: string, source: string | null, mix: string | null, processor: string, parameter: string, value: number | null];")]
    [InlineData("step: HistoryLine | null;")]
    [InlineData("patch: PatchOperation[];")]
    [InlineData("kind: \"Do\" | \"Undo\" | \"Redo\";")]
    [InlineData("of: number | null;")]
    public void Values_have_the_types_that_they_have_in_JSON(string line) => _text.ShouldContain($"  {line}\n");

    [Theory]
    [InlineData("SourceMeter", "clipsIn: 7")]
    [InlineData("MixMeter", "truePeakMost: 6")]
    [InlineData("ProcessorMeter", "gate: 2")]
    public void Places_of_values_are_those_of_a_meter_frame(string what, string place) =>
        _text.Split($"export const {what} = ")[1].Split("as const")[0].ShouldContain($"  {place},\n");
}
