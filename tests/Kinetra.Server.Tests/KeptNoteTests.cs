using Kinetra.Server.Hosting;
using Microsoft.Extensions.Logging;

namespace Kinetra.Server.Tests;

/// <summary>What is kept in small files outlives a restart, and damage to it costs nothing but what is damaged.</summary>
public sealed class KeptNoteTests : IDisposable
{
    private readonly DirectoryInfo _folder = Directory.CreateTempSubdirectory("kinetra-note-");
    private readonly Lines _lines = new();

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private string Path => System.IO.Path.Combine(_folder.FullName, "note.json");

    public void Dispose() => _folder.Delete(recursive: true);

    [Fact]
    public async Task What_was_kept_is_there_after_a_restart_and_where_nothing_was_nothing_is_told()
    {
        Note().Now.Words.ShouldBe("none");
        Note().Change(n => n with { Words = "kept" }).Words.ShouldBe("kept");
        Note().Now.Words.ShouldBe("kept");
        (await File.ReadAllTextAsync(Path, Cancel)).ShouldContain("kept");
        _folder.GetFiles().Length.ShouldBe(1);
        _lines.All.ShouldBeEmpty();
    }

    [Theory]
    [InlineData("""{"Words":"my pass""")]
    [InlineData("my pass")]
    [InlineData("")]
    public async Task What_cannot_be_read_is_told_without_its_words_and_set_aside_before_it_is_written_over(string damaged)
    {
        await File.WriteAllTextAsync(Path, damaged, Cancel);
        var note = Note();
        note.Now.Words.ShouldBe("none");
        _lines.All.Single().ShouldStartWith($"The note could not be read from {Path}");
        _lines.All.Single().ShouldNotContain("my pass");

        // As long as nothing is written it lies where it was.
        (await File.ReadAllTextAsync(Path, Cancel)).ShouldBe(damaged);
        note.Change(n => n with { Words = "one" });
        note.Change(n => n with { Words = "two" });
        (await File.ReadAllTextAsync(Path + ".damaged", Cancel)).ShouldBe(damaged);
        Note().Now.Words.ShouldBe("two");
    }

    [Fact]
    public void What_cannot_be_kept_is_so_until_a_restart_and_is_told()
    {
        var note = Note();
        Directory.CreateDirectory(Path + ".part");
        note.Change(n => n with { Words = "new" }).Words.ShouldBe("new");
        note.Now.Words.ShouldBe("new");
        _lines.All.Single().ShouldStartWith("The note could not be stored");
    }

    private KeptNote<Kept> Note() => new(Path, new Kept("none"), _lines, "The note");

    private sealed record Kept(string Words);

    private sealed class Lines : ILogger
    {
        public List<string> All { get; } = [];

        public IDisposable? BeginScope<TState>(TState state)
            where TState : notnull => null;

        public bool IsEnabled(LogLevel logLevel) => true;

        public void Log<TState>(LogLevel logLevel, EventId eventId, TState state, Exception? exception, Func<TState, Exception?, string> formatter) =>
            All.Add(formatter(state, exception));
    }
}
