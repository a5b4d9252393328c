using Kinetra.Server.Live;

namespace Kinetra.Server.Tests;

/// <summary>The show files that a new database begins with.</summary>
public sealed class FirstShowsTests : IDisposable
{
    private static readonly string Plain = Path.Combine(AppContext.BaseDirectory, "shows");
    private readonly DirectoryInfo _folder = Directory.CreateTempSubdirectory("first-shows-");

    public void Dispose() => _folder.Delete(recursive: true);

    [Fact]
    public void They_are_those_of_the_folder_by_the_names_of_their_files_and_else_the_demo()
    {
        FirstShows.Of(Plain).Select(s => s.Name).ShouldBe(["The Lamp Room", "Tide Tables"]);
        FirstShows.Of(null).Select(s => s.Name).ShouldBe(Kinetra.Gear.DemoShows.All.Select(s => s.Name));
    }

    [Fact]
    public void One_bad_file_among_good_ones_is_named_with_what_is_wrong_and_so_are_two_of_one_name_and_a_folder_without_any()
    {
        Said().ShouldContain("files that end with .show.json");
        File.Copy(Path.Combine(Plain, "the-lamp-room.show.json"), Path.Combine(_folder.FullName, "a.show.json"));
        File.Copy(Path.Combine(Plain, "the-lamp-room.show.json"), Path.Combine(_folder.FullName, "b.show.json"));
        Said().ShouldContain("“The Lamp Room”");
        File.WriteAllText(Path.Combine(_folder.FullName, "b.show.json"), "{");
        Said().ShouldContain("b.show.json");
        _folder.Delete(recursive: true);
        Said().ShouldContain("cannot be read");
        _folder.Create();
    }

    private string Said() => Should.Throw<NotSupportedException>(() => FirstShows.Of(_folder.FullName)).Message;
}
