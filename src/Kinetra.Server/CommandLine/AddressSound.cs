using System.Globalization;
using Kinetra.Core.Signal;
using Kinetra.Media;
using Kinetra.Media.Streaming;

namespace Kinetra.Server.CommandLine;

/// <summary>Some seconds of what an address on this computer gives, as a file that is gone afterwards.</summary>
sealed class AddressSound : IDisposable
{
    /// <summary>How much is taken where nobody says, seconds.</summary>
    public const double UsualSeconds = 10;

    /// <summary>The most that is taken, seconds.</summary>
    public const double MostSeconds = 3_600;

    private const string Allowed = "an address on this computer that gives sound, as http://127.0.0.1:5170/live/KEY.wav";

    // So long it may give nothing.
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(10);

    private readonly string _folder = Directory.CreateTempSubdirectory("kinetra-address-").FullName;

    private AddressSound()
    {
    }

    /// <summary>The file.</summary>
    public string Path => System.IO.Path.Combine(_folder, "sound.wav");

    /// <summary>What it came as, in words: "Opus in Ogg".</summary>
    public string Format { get; private set; } = "";

    /// <summary>True where words are an address and no file.</summary>
    public static bool IsAddress(string words) =>
        words.StartsWith("http://", StringComparison.OrdinalIgnoreCase) || words.StartsWith("https://", StringComparison.OrdinalIgnoreCase);

    /// <summary>Takes what it gives from now on.</summary>
    /// <param name="address">The address.</param>
    /// <param name="seconds">How much, seconds; less where it ends before.</param>
    /// <exception cref="SoundFileException">It is no address on this computer, nothing answers there, or what comes is no sound.</exception>
    public static AddressSound Take(string address, double seconds)
    {
        if (!Uri.TryCreate(address, UriKind.Absolute, out var uri) || !uri.IsLoopback)
        {
            throw new SoundFileException("This is no address on this computer.", Allowed);
        }

        if (!(seconds is > 0 and <= MostSeconds))
        {
            throw new SoundFileException(string.Create(CultureInfo.InvariantCulture, $"{seconds} s of an address cannot be taken."), $"more than 0 s, at most {MostSeconds} s");
        }

        var taken = new AddressSound();
        try
        {
            taken.Fill(uri, (long)Math.Round(seconds * AudioFormat.SampleRate));
            return taken;
        }
        catch (Exception e) when (e is HttpRequestException or IOException or OperationCanceledException)
        {
            taken.Dispose();
            throw new SoundFileException(
                e is HttpRequestException { StatusCode: { } status } ? $"The address answers {(int)status}: there is no sound." : $"Nothing came from the address: {(e is OperationCanceledException ? "it gave nothing for 10 s" : e.Message)}.", Allowed);
        }
        catch
        {
            taken.Dispose();
            throw;
        }
    }

    /// <inheritdoc/>
    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private void Fill(Uri address, long frames)
    {
        using var http = new HttpClient(new SocketsHttpHandler { AllowAutoRedirect = false, UseProxy = false, ConnectTimeout = Patience }) { Timeout = Timeout.InfiniteTimeSpan };
        using var request = new HttpRequestMessage(HttpMethod.Get, address);
        using var begun = new CancellationTokenSource(Patience);
        using var response = http.Send(request, HttpCompletionOption.ResponseHeadersRead, begun.Token);
        response.EnsureSuccessStatusCode();
        using var body = response.Content.ReadAsStream(begun.Token);
        using var patient = new PatientStream(body, Patience);
        using var decoder = StreamDecoder.Open(patient);
        Format = decoder.Format;
        using var writer = new SoundFileWriter(Path, decoder.Channels, SoundFormat.Wav);
        var (left, right) = (new float[8_192], new float[8_192]);
        new AtEngineRate(decoder).Run(interleaved =>
        {
            var count = (int)Math.Min(frames, interleaved.Length / decoder.Channels);
            if (left.Length < count)
            {
                (left, right) = (new float[count], new float[count]);
            }

            for (var n = 0; n < count; n++)
            {
                left[n] = interleaved[n * decoder.Channels];
                right[n] = interleaved[(n * decoder.Channels) + decoder.Channels - 1];
            }

            writer.Write(left.AsSpan(0, count), right.AsSpan(0, count));
            frames -= count;
            return frames > 0;
        });
    }

    // Reading waits for what comes, but not for ever.
    private sealed class PatientStream(Stream from, TimeSpan patience) : PassingStream
    {
        public override int Read(Span<byte> buffer)
        {
            using var limit = new CancellationTokenSource(patience);
            var part = new byte[buffer.Length];
            var count = from.ReadAsync(part, limit.Token).AsTask().GetAwaiter().GetResult();
            part.AsSpan(0, count).CopyTo(buffer);
            return count;
        }
    }
}
