using System.Text.Json;
using Kinetra.Server.Hosting;
using Kinetra.Server.Hosting.Secrets;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging;
using Microsoft.Extensions.Logging.Abstractions;
using Microsoft.Extensions.Logging.Console;

namespace Kinetra.Server.Tests;

public sealed class SecretTests : IDisposable
{
    private const string Word = "lamp \"oil\" & wick";
    private readonly DirectoryInfo _folder = Directory.CreateTempSubdirectory("kinetra-secrets-");

    public void Dispose() => _folder.Delete(recursive: true);

    private ServiceProvider Services(string folder, string password = "") => Services(new ServerOptions
    {
        DataFolder = Path.Combine(_folder.FullName, folder),
        Connection = $"Host=127.0.0.1;Password={password}",
    });

    private static ServiceProvider Services(ServerOptions options)
    {
        var services = new ServiceCollection();
        services.AddLogging();
        services.AddSecrets(options);
        return services.BuildServiceProvider();
    }

    [Fact]
    public void A_secret_is_read_from_a_body_and_written_into_nothing()
    {
        var given = JsonSerializer.Deserialize<Login>(JsonSerializer.Serialize(new { name = "sea", password = Word }), JsonSerializerOptions.Web)!;
        given.Password!.Reveal().ShouldBe(Word);
        JsonSerializer.Serialize(given, JsonSerializerOptions.Web).ShouldBe("""{"name":"sea","password":null}""");
        $"{given} {given.Password}".ShouldNotContain("lamp");
    }

    [Theory]
    [InlineData("\"\"")]
    [InlineData("17")]
    [InlineData("{}")]
    public void What_is_no_secret_is_refused_without_being_repeated(string json)
    {
        Should.Throw<JsonException>(() => JsonSerializer.Deserialize<Login>($$"""{"name":"sea","password":{{json}}}""", JsonSerializerOptions.Web)).Message.ShouldContain("1 to 1024");
        Should.Throw<ArgumentException>(() => new Secret(new string('q', Secret.MaxLength + 1))).Message.ShouldNotContain("qq");
    }

    [Fact]
    public void What_is_kept_is_opened_after_a_restart_and_is_useless_without_the_keys_of_its_folder()
    {
        string kept;
        using (var first = Services("one"))
        {
            kept = first.GetRequiredService<SecretBox>().Close(new Secret(Word));
        }

        kept.ShouldNotContain("lamp");
        using var again = Services("one");
        again.GetRequiredService<SecretBox>().Open(kept).Reveal().ShouldBe(Word);
        using var elsewhere = Services("two");
        Should.Throw<SecretLostException>(() => elsewhere.GetRequiredService<SecretBox>().Open(kept)).Message.ShouldContain("given again");
        Should.Throw<SecretLostException>(() => again.GetRequiredService<SecretBox>().Open("what is this"));
        Directory.EnumerateFiles(Path.Combine(_folder.FullName, "one", SecretServices.Folder)).ShouldNotBeEmpty();
    }

    [Fact]
    public void No_log_line_holds_a_secret_however_it_is_written_and_however_deep_it_stands()
    {
        using var services = Services("one", "p4ss&word");
        services.GetRequiredService<SecretBox>().Close(new Secret(Word));
        var console = new RedactedConsole(services.GetRequiredService<Redaction>());
        var inner = new InvalidOperationException($"db://me:p4ss%26word@host {JsonSerializer.Serialize(Word)}");
        var error = new IOException($"with p4ss&word and {Word}", inner);
        using var written = new StringWriter();
        var entry = new LogEntry<string>(LogLevel.Error, "Kinetra.Anything", new EventId(3), Uri.EscapeDataString(Word), error, (state, _) => state);
        console.Write(entry, null, written);
        var line = written.ToString();
        line.ShouldStartWith($"fail: Kinetra.Anything[3] {Secret.Dots} System.IO.IOException: with {Secret.Dots} and {Secret.Dots}");
        line.ShouldNotContain("p4ss");
        line.ShouldNotContain("wick");
        line.TrimEnd().ShouldNotContain("\n");
    }

    [Fact]
    public void The_server_writes_its_log_by_it()
    {
        using var app = Application.Build(new ServerOptions { Port = 0, DataFolder = _folder.FullName, Connection = "Host=127.0.0.1;Password=p4ss" });
        var options = app.Services.GetRequiredService<Microsoft.Extensions.Options.IOptions<ConsoleLoggerOptions>>().Value;
        options.FormatterName.ShouldBe(RedactedConsole.FormatterName);
        app.Services.GetServices<ConsoleFormatter>().Single(f => f.Name == RedactedConsole.FormatterName).ShouldBeOfType<RedactedConsole>();
        app.Services.GetRequiredService<Redaction>().Hide("a p4ss b").ShouldBe($"a {Secret.Dots} b");
    }

    private sealed record Login(string Name, Secret? Password);
}
