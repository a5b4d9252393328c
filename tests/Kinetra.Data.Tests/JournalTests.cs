using Kinetra.Core.Editing;
using Kinetra.Core.Signal;

namespace Kinetra.Data.Tests;

public sealed class JournalTests : IDisposable
{
    private readonly DirectoryInfo _folder = Directory.CreateTempSubdirectory("kinetra-journal-");

    private string Path => System.IO.Path.Combine(_folder.FullName, "deeper", "journal.jsonl");

    public void Dispose() => _folder.Delete(recursive: true);

    [Fact]
    public void What_was_appended_is_read_in_order_by_whoever_opens_it_next()
    {
        using (var journal = new CommandJournal(Path))
        {
            journal.Read().ShouldBeEmpty();
            journal.Append(Entry(1));
            journal.Append(Entry(2));
        }

        using var again = new CommandJournal(Path);
        again.Append(Entry(3));
        again.Read().ShouldBe([Entry(1), Entry(2), Entry(3)]);
        again.Clear();
        again.Read().ShouldBeEmpty();
        File.Exists(Path).ShouldBeFalse();
        again.Append(Entry(4));
        again.Read().ShouldBe([Entry(4)]);
    }

    [Fact]
    public void However_a_last_line_was_cut_off_it_does_not_count_and_the_next_one_does()
    {
        using (var journal = new CommandJournal(Path))
        {
            journal.Append(Entry(1));
            journal.Append(Entry(2));
        }

        var whole = File.ReadAllBytes(Path);
        var first = Array.IndexOf(whole, (byte)'\n') + 1;
        for (var length = first; length < whole.Length; length += 7)
        {
            File.WriteAllBytes(Path, whole[..length]);
            using var journal = new CommandJournal(Path);
            journal.Read().ShouldBe([Entry(1)]);
            journal.Append(Entry(9));
            journal.Read().ShouldBe([Entry(1), Entry(9)]);
        }
    }

    [Fact]
    public void A_whole_line_that_cannot_be_understood_is_said_so_and_the_file_can_be_set_aside()
    {
        using var journal = new CommandJournal(Path);
        journal.Append(Entry(1));
        File.AppendAllText(Path, "{\"show\":7}\n");
        Should.Throw<InvalidDataException>(journal.Read).Message.ShouldContain("Line 2");
        File.Exists(journal.SetAside()).ShouldBeTrue();
        journal.Read().ShouldBeEmpty();
    }

    private static JournalEntry Entry(long revision)
    {
        var command = new SetSend(new("viewers"), new("mic"), new Gain(-revision));
        return new JournalEntry(
            Guid.Empty, new Step(revision, DateTimeOffset.UnixEpoch, StepKind.Do, null, new StepAuthor("w", null), "é → −3 dB", command, command));
    }
}
