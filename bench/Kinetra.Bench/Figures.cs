using System.Globalization;
using System.Numerics;
using System.Text;
using Kinetra.Core.Engine;
using Kinetra.Core.Processors;
using Kinetra.Core.Signal;
using MathNet.Numerics.IntegralTransforms;

namespace Kinetra.Bench;

/// <summary>Curves that were measured on the running processors, as SVG pictures for the documents.</summary>
static class Figures
{
    private const int Second = AudioFormat.SampleRate;
    private static readonly string[] Colors = ["#b46a00", "#1f6f8b", "#7a4fa3", "#3f7d32"];

    public static void Write(string folder)
    {
        Directory.CreateDirectory(folder);
        Save(folder, "cuts", "Low cut at 80 Hz and high cut at 8 kHz, 12 to 48 dB per octave", Frequency(
            -60, 6, [.. Enumerable.Range(0, 4).SelectMany(s => new[]
            {
                ($"", Response(Cuts.LowCut, ("frequency", 80), ("slope", s))),
                ($"", Response(Cuts.HighCut, ("frequency", 8_000), ("slope", s))),
            })]));
        Save(folder, "equaliser", "Equaliser: a low shelf, two peaks, a notch, a high shelf", Frequency(
            -24, 18,
            ("Low shelf +9 dB at 120 Hz", Response(Equaliser.Type, ("shape1", 2), ("gain1", 9))),
            ("Peak +12 dB at 12 kHz, Q 2", Response(Equaliser.Type, ("shape3", 1), ("frequency3", 12_000), ("gain3", 12), ("q3", 2))),
            ("Notch at 1 kHz, Q 4", Response(Equaliser.Type, ("shape2", 4), ("frequency2", 1_000), ("q2", 4))),
            ("High shelf −9 dB at 6 kHz", Response(Equaliser.Type, ("shape4", 3), ("frequency4", 6_000), ("gain4", -9)))));
        Save(folder, "compressor", "Compressor: level out over level in, threshold −30 dB", Plot.Linear(
            "level in, dBFS", "level out, dBFS", (-60, 0), (-60, 0),
            ("2:1, knee 0", Static(Compressor.Type, -60, ("threshold", -30), ("ratio", 2), ("knee", 0), ("attack", 1))),
            ("4:1, knee 0", Static(Compressor.Type, -60, ("threshold", -30), ("ratio", 4), ("knee", 0), ("attack", 1))),
            ("4:1, knee 24", Static(Compressor.Type, -60, ("threshold", -30), ("ratio", 4), ("knee", 24), ("attack", 1)))));
        Save(folder, "compressor-time", "Compressor: its gain over time; attack 10 ms, release 150 ms", Plot.Linear(
            "ms", "gain, dB", (0, 900), (-18, 1),
            ("", Reduction(Compressor.Type, [(-60, 100), (0, 300), (-60, 500)], ("threshold", -20), ("ratio", 4), ("knee", 0)))));
        Save(folder, "gate", "Gate: level out over rising level in, threshold −40 dB", Plot.Linear(
            "level in, dBFS", "level out, dBFS", (-70, -10), (-100, -10),
            ("range 24 dB", Static(Gate.Type, -70, ("threshold", -40), ("range", 24), ("lookAhead", 0), ("keyLowCut", 20))),
            ("expander, 3:1", Static(Gate.Type, -70, ("threshold", -40), ("range", 80), ("ratio", 3), ("lookAhead", 0), ("keyLowCut", 20)))));
        Save(folder, "ducker", "Ducker: its gain while the key sounds from 0.2 to 1 s", Plot.Linear(
            "ms", "gain, dB", (0, 3_000), (-14, 1),
            ("", Reduction(Ducker.Type, [(-140, 200), (-10, 800), (-140, 2_000)]))));
        Save(folder, "de-esser", "De-esser: response at rest, and while it lowers by 8 dB", Frequency(
            -12, 3,
            ("at rest", Response(DeEsser.Type, ("range", 0))),
            ("lowering by 8 dB", Response(DeEsser.Type, ("threshold", -30), ("range", 8), ("attack", 0.1), ("release", 500), ("frequency", 5_500)))));
        Save(folder, "exciter", "Exciter: spectrum of what comes of a 5 kHz tone at full scale, high amount 100 %", Plot.Log(
            "Hz", "dBFS", (100, 24_000), (-120, 6), ("", Spectrum(Exciter.Type, 5_000, ("highAmount", 100), ("highFrequency", 1_000)))));
        Save(folder, "limiter", "Limiter: level out over level in of a 997 Hz sine, ceiling −6 dBTP, drive 0 and 12 dB", Plot.Linear(
            "peak in, dBFS", "peak out, dBFS", (-40, 20), (-40, 0),
            ("drive 0 dB", Sine(Limiter.Type, ("ceiling", -6))),
            ("drive 12 dB", Sine(Limiter.Type, ("ceiling", -6), ("drive", 12)))));
        Save(folder, "room", "Room: how a burst of noise dies away, decay 700 ms", Plot.Linear(
            "ms", "dB", (0, 1_500), (-100, 0), ("", Decay())));
    }

    private static void Save(string folder, string name, string title, string svg) =>
        File.WriteAllText(Path.Combine(folder, $"{name}.svg"), svg.Replace("@title", title, StringComparison.Ordinal));

    private static float[] Run(ProcessorType type, float[] sound, float[]? key, params (string Key, double Value)[] values) => Run(type, sound, key, null, values);

    private static float[] Run(ProcessorType type, float[] sound, float[]? key, Action<int, ChainSlot>? after, params (string Key, double Value)[] values)
    {
        var all = type.Defaults.ToArray();
        foreach (var (name, value) in values)
        {
            all[type.IndexOf(name)] = value;
        }

        var slot = new ChainSlot(type, new ProcessorSettings(1, [.. all]));
        var heard = (float[])sound.Clone();
        for (var at = 0; at < heard.Length; at += 48)
        {
            var length = Math.Min(48, heard.Length - at);
            slot.Process(heard.AsSpan(at, length), default, key is null ? default : new Frames(key.AsSpan(at, length), default));
            after?.Invoke(at, slot);
        }

        return heard;
    }

    private static List<(double, double)> Response(ProcessorType type, params (string Key, double Value)[] values)
    {
        const int length = 131_072;
        float[] impulse = [.. new float[256], 1, .. new float[length - 257]];
        var spectrum = Run(type, impulse, null, values).Select(x => new Complex(x, 0)).ToArray();
        Fourier.Forward(spectrum, FourierOptions.NoScaling);
        var points = new List<(double, double)>();
        for (var hertz = 20.0; hertz < 22_000; hertz *= 1.012)
        {
            points.Add((hertz, Db(spectrum[(int)Math.Round(hertz * length / Second)].Magnitude)));
        }

        return points;
    }

    private static string Frequency(double from, double to, params (string Name, List<(double, double)> Points)[] lines) =>
        Plot.Log("Hz", "dB", (20, 20_000), (from, to), lines);

    private static List<(double, double)> Static(ProcessorType type, double from, params (string Key, double Value)[] values) =>
    [
        .. Enumerable.Range(0, 2 * (int)-from).Select(i => from + (i / 2.0)).Select(
            level => (level, Db(Math.Abs(Run(type, Square(level, Second / 2), null, values)[^1])))),
    ];

    private static List<(double, double)> Sine(ProcessorType type, params (string Key, double Value)[] values) =>
    [
        .. Enumerable.Range(-40, 61).Select(level =>
        {
            var sine = Enumerable.Range(0, Second / 2).Select(n => (float)(Math.Pow(10, level / 20.0) * Math.Sin(2 * Math.PI * 997 * n / Second))).ToArray();
            return ((double)level, Db(Run(type, sine, null, values).Skip(Second / 4).Max(Math.Abs)));
        }),
    ];

    private static List<(double, double)> Reduction(ProcessorType type, (double Level, int Ms)[] steps, params (string Key, double Value)[] values)
    {
        var sound = steps.SelectMany(s => Square(s.Level, s.Ms * 48)).ToArray();
        var points = new List<(double, double)>();
        Run(type, sound, sound, (at, slot) => points.Add((at / 48.0, -slot.Reduction)), values);
        return points;
    }

    private static List<(double, double)> Spectrum(ProcessorType type, double hertz, params (string Key, double Value)[] values)
    {
        var tone = Enumerable.Range(0, 3 * Second).Select(n => (float)Math.Sin(2 * Math.PI * hertz * n / Second)).ToArray();
        var heard = Run(type, tone, null, values)[(2 * Second)..];
        var sum = 0.0;
        var spectrum = heard.Select((x, n) =>
        {
            var t = 2 * Math.PI * n / heard.Length;
            var window = 0.35875 - (0.48829 * Math.Cos(t)) + (0.14128 * Math.Cos(2 * t)) - (0.01168 * Math.Cos(3 * t));
            sum += window;
            return new Complex(x * window, 0);
        }).ToArray();
        Fourier.Forward(spectrum, FourierOptions.NoScaling);

        // Of each 40 Hz the highest: a picture has no room for more.
        return [.. Enumerable.Range(2, 590).Select(i => (i * 40.0, Db(Enumerable.Range(i * 40, 40).Max(bin => 2 * spectrum[bin].Magnitude / sum))))];
    }

    private static List<(double, double)> Decay()
    {
        var random = new Random(1);
        float[] burst = [.. Enumerable.Range(0, 4_800).Select(_ => random.NextSingle() - 0.5f), .. new float[2 * Second]];
        var heard = Run(Room.Type, burst, null, ("blend", 100));
        return [.. Enumerable.Range(0, 75).Select(i => (i * 20.0, 10 * Math.Log10(1e-12 + heard.AsSpan(4_800 + (i * 960), 960).ToArray().Average(x => (double)x * x))))];
    }

    private static float[] Square(double level, int frames) =>
        [.. Enumerable.Range(0, frames).Select(n => (float)(Math.Pow(10, level / 20) * (n % 2 == 0 ? 1 : -1)))];

    private static double Db(double magnitude) => 20 * Math.Log10(Math.Max(magnitude, 1e-9));

    /// <summary>Lines over two axes.</summary>
    private static class Plot
    {
        private static readonly int[] Steps = [1, 2, 5, 10];

        private const double Width = 640, Height = 300, Left = 52, Right = 26, Top = 30, Bottom = 36;

        public static string Linear(string x, string y, (double From, double To) xs, (double From, double To) ys, params (string Name, List<(double, double)> Points)[] lines) =>
            Draw(x, y, xs, ys, v => (v - xs.From) / (xs.To - xs.From), Ticks(xs), lines);

        public static string Log(string x, string y, (double From, double To) xs, (double From, double To) ys, params (string Name, List<(double, double)> Points)[] lines) =>
            Draw(x, y, xs, ys, v => Math.Log(v / xs.From) / Math.Log(xs.To / xs.From), [.. new double[] { 20, 50, 100, 200, 500, 1_000, 2_000, 5_000, 10_000, 20_000 }.Where(t => t >= xs.From && t <= xs.To)], lines);

        private static string Draw(
            string x, string y, (double From, double To) xs, (double From, double To) ys, Func<double, double> share, double[] ticks, (string Name, List<(double, double)> Points)[] lines)
        {
            double X(double v) => Left + (share(v) * (Width - Left - Right));
            double Y(double v) => Height - Bottom - ((Math.Clamp(v, ys.From, ys.To) - ys.From) / (ys.To - ys.From) * (Height - Top - Bottom));
            var svg = new StringBuilder();
            svg.Append(Text($"<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 {Width} {Height}' font-family='sans-serif' font-size='11'>"));
            svg.Append(Text($"<rect width='{Width}' height='{Height}' fill='#faf8f3'/><text x='{Left}' y='18' font-size='12' fill='#222'>@title</text>"));
            foreach (var tick in ticks)
            {
                svg.Append(Text($"<path d='M{X(tick):0.#} {Top}V{Height - Bottom}' stroke='#ddd8cc'/><text x='{X(tick):0.#}' y='{Height - Bottom + 14}' text-anchor='middle' fill='#555'>{Number(tick)}</text>"));
            }

            foreach (var tick in Ticks(ys))
            {
                svg.Append(Text($"<path d='M{Left} {Y(tick):0.#}H{Width - Right}' stroke='#ddd8cc'/><text x='{Left - 6}' y='{Y(tick) + 4:0.#}' text-anchor='end' fill='#555'>{Number(tick)}</text>"));
            }

            svg.Append(Text($"<text x='{Width - Right}' y='{Height - 6}' text-anchor='end' fill='#555'>{x}</text><text x='12' y='{Top + 4}' fill='#555' transform='rotate(-90 12 {Top + 4})' text-anchor='end'>{y}</text>"));
            for (var i = 0; i < lines.Length; i++)
            {
                var color = Colors[i % Colors.Length];
                var path = string.Join('L', lines[i].Points.Where(p => p.Item1 >= xs.From && p.Item1 <= xs.To).Select(p => Text($"{X(p.Item1):0.#} {Y(p.Item2):0.#}")));
                svg.Append(Text($"<path d='M{path}' fill='none' stroke='{color}' stroke-width='1.5'/>"));
                if (lines[i].Name.Length > 0)
                {
                    svg.Append(Text($"<text x='{Left + 350}' y='{Height - Bottom - 8 - (14 * i)}' fill='{color}'>{lines[i].Name}</text>"));
                }
            }

            return svg.Append("</svg>\n").ToString();
        }

        private static double[] Ticks((double From, double To) range)
        {
            var raw = (range.To - range.From) / 6;
            var unit = Math.Pow(10, Math.Floor(Math.Log10(raw)));
            var step = Steps.First(s => s * unit >= raw) * unit;
            return [.. Enumerable.Range(0, 12).Select(i => (Math.Ceiling(range.From / step) + i) * step).Where(t => t <= range.To)];
        }

        private static string Number(double value) => (value < 0 ? "−" : "") + Math.Abs(value).ToString("#,0.##", CultureInfo.InvariantCulture).Replace(',', ' ');

        private static string Text(FormattableString text) => text.ToString(CultureInfo.InvariantCulture);
    }
}
