using CsCheck;
using Kinetra.Core.Dsp;
using Kinetra.Core.Engine;
using Kinetra.Core.Processors;
using MathNet.Numerics.IntegralTransforms;

namespace Kinetra.Core.Tests.Processors;

/// <summary>Loops are judged by the gain that each type states: nothing may raise a tone by more.</summary>
public class LargestGainTests
{
    private const int Frames = 1 << 18;

    // −100 dBFS: no threshold reaches down to it, and it is far above what is rounded.
    private const float Quiet = 1e-5f;

    public static TheoryData<string> Types => [.. ProcessorTypes.All.Select(t => t.Key)];

    [Theory]
    [MemberData(nameof(Types))]
    public void No_type_raises_a_tone_by_more_than_it_states_whatever_is_set(string key)
    {
        var type = ProcessorTypes.Find(key)!;
        var any = Gen.Double[0, 1].Array[type.Parameters.Length].Select(at => type.Parameters.Select((p, i) => Value(p, at[i])).ToArray());
        any.Sample(
            values =>
            {
                foreach (var channels in new[] { 1, 2 })
                {
                    var settings = new ProcessorSettings(channels, [.. values]);
                    if (type == Exciter.Type || type == DeEsser.Type)
                    {
                        ShouldKeepTones(type, settings);
                        continue;
                    }

                    var click = new float[Frames];
                    click[0] = Quiet;
                    var (left, right) = Rack.Run(new ChainSlot(type, settings), click, channels == 2 ? new float[Frames] : null);
                    Peak(left).ShouldBeLessThan(Stated(type, settings) * 1.01 + 1e-3, Words(type, values));
                    if (channels == 2)
                    {
                        Peak(right).ShouldBeLessThan(type.CrossGain(settings) * 1.01 + 1e-3, Words(type, values));
                    }
                }
            },
            iter: 12);
    }

    [Theory]
    [InlineData(0, 5_000, 100)]
    [InlineData(1, 700, 25)]
    [InlineData(2, 2_000, 60)]
    public void A_rooms_stated_gain_is_near_its_loudest_resonance(int size, double decay, double blend)
    {
        var settings = Rack.Settings(Room.Type, 1, ("size", size), ("decay", decay), ("blend", blend), ("damping", 16_000));
        var click = new float[Frames];
        click[0] = Quiet;
        var peak = Peak(Rack.Run(new ChainSlot(Room.Type, settings), click).Left);
        Signals.Db(Room.Type.MostGain(settings) / peak).ShouldBeInRange(0, 1.5);
    }

    [Fact]
    public void A_room_does_not_ring_below_hearing()
    {
        var settings = Rack.Settings(Room.Type, 1, ("size", 0), ("decay", 5_000), ("blend", 100));
        var (step, slot) = (new float[Frames], new ChainSlot(Room.Type, settings));
        Array.Fill(step, 0.1f);
        Rack.Run(slot, step).Left[^1_000..].ShouldAllBe(x => Math.Abs(x) < 1e-3);
    }

    [Fact]
    public void A_sections_extremes_are_where_its_magnitude_is_greatest_and_least()
    {
        Gen.Select(Gen.Double[30, 18_000], Gen.Double[0.1, 18], Gen.Double[-24, 24], Gen.Int[0, 3]).Sample((frequency, q, gain, kind) =>
        {
            var section = kind switch
            {
                0 => FilterDesign.Peak(frequency, q, gain),
                1 => FilterDesign.LowShelf(frequency, q, gain),
                2 => FilterDesign.HighShelf(frequency, q, gain),
                _ => FilterDesign.LowPass(frequency, q),
            };
            double At(double hertz) => FilterDesign.Magnitude([section], hertz);
            var grid = Enumerable.Range(1, 23_999).Max(f => At(f));
            Math.Max(Math.Max(At(0.001), At(23_999.999)), FilterDesign.Extremes(section).Select(At).Append(0).Max()).ShouldBeGreaterThan(grid * (1 - 1e-9));
        });
    }

    // What follows the level of a sound has no impulse response: tones, loud and quiet, with all that is added to them.
    private static void ShouldKeepTones(ProcessorType type, ProcessorSettings settings)
    {
        foreach (var (hertz, amplitude) in new[] { (60.0, 0.5), (110, 0.01), (900, 0.1), (5_000, 0.5) })
        {
            var tone = Signals.Sine(hertz, amplitude, Signals.Rate);
            var heard = Rack.Run(new ChainSlot(type, settings), tone, settings.Channels == 2 ? new float[tone.Length] : null).Left;
            heard[24_000..].Max(Math.Abs).ShouldBeLessThan((float)(amplitude * type.MostGain(settings) * 1.01), $"{hertz} Hz");
        }
    }

    private static double Stated(ProcessorType type, ProcessorSettings settings)
    {
        if (type.Design is not { } design)
        {
            return type.MostGain(settings);
        }

        var sections = new BiquadCoefficients[type.Sections];
        design(settings.Values.AsSpan(), sections);
        return Enumerable.Range(1, 23_999).Select(f => (double)f).Concat([0, 24_000]).Concat(sections.SelectMany(FilterDesign.Extremes)).Max(f => FilterDesign.Magnitude(sections, f));
    }

    private static double Peak(float[] response)
    {
        var spectrum = response.Select(x => new System.Numerics.Complex(x / Quiet, 0)).ToArray();
        Fourier.Forward(spectrum, FourierOptions.NoScaling);
        return spectrum.Max(c => c.Magnitude);
    }

    private static double Value(Parameter parameter, double at) => parameter.Scale switch
    {
        ParameterScale.Choice => Math.Round(parameter.Min + (at * (parameter.Max - parameter.Min))),
        ParameterScale.Logarithmic => parameter.Min * Math.Pow(parameter.Max / parameter.Min, at),
        _ => parameter.Min + (at * (parameter.Max - parameter.Min)),
    };

    private static string Words(ProcessorType type, double[] values) => string.Join(", ", type.Parameters.Zip(values, (p, v) => $"{p.Key} {v:0.###}"));
}
