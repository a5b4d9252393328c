using System.Text.Json.Nodes;
using Kinetra.Data;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Kinetra.Tests.Shared;
using Microsoft.AspNetCore.Builder;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging.Abstractions;
using Npgsql;

namespace Kinetra.Server.Tests;

/// <summary>A database that somebody else looks after.</summary>
public sealed class GivenDatabaseTests : IAsyncLifetime
{
    private readonly DirectoryInfo _data = Directory.CreateTempSubdirectory("kinetra-given-");
    private readonly TestDatabase _first = new();
    private readonly TestDatabase _second = new();

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    public async ValueTask InitializeAsync()
    {
        await _first.InitializeAsync();
        await _second.InitializeAsync("encoding 'LATIN1' lc_collate 'C' lc_ctype 'C' template template0");
    }

    public async ValueTask DisposeAsync()
    {
        await _first.DisposeAsync();
        await _second.DisposeAsync();
        _data.Delete(recursive: true);
    }

    [Fact]
    public async Task One_that_lets_nobody_in_by_that_password_is_told_as_that_and_the_password_is_not_told()
    {
        var connection = new NpgsqlConnectionStringBuilder(_first.Connection) { Password = "topsecret" }.ConnectionString;
        (await WaitingForAsync(connection, "let Kinetra in")).ShouldNotContain("topsecret");
    }

    [Fact]
    public async Task One_that_cannot_keep_every_text_is_refused_with_what_is_allowed() =>
        (await WaitingForAsync(_second.Connection, "LATIN1")).ShouldContain("allowed: UTF8");

    [Fact]
    public async Task A_data_folder_belongs_to_the_database_that_it_was_first_used_with()
    {
        await using (var context = await _first.Contexts.CreateDbContextAsync(Cancel))
        {
            await Microsoft.EntityFrameworkCore.RelationalDatabaseFacadeExtensions.MigrateAsync(context.Database, Cancel);
        }

        (await OwnsAsync(_first)).ShouldBeTrue();
        (await OwnsAsync(_first)).ShouldBeTrue();
        await File.WriteAllTextAsync(Path.Combine(_data.FullName, "database-id"), Guid.NewGuid().ToString(), Cancel);
        (await OwnsAsync(_first)).ShouldBeFalse();

        // One that cannot be read stops no start, and nothing is taken away.
        File.Delete(Path.Combine(_data.FullName, "database-id"));
        Directory.CreateDirectory(Path.Combine(_data.FullName, "database-id"));
        (await OwnsAsync(_first)).ShouldBeFalse();

        Task<bool> OwnsAsync(TestDatabase database) =>
            new FolderOwner(new ShowStore(database.Contexts, TimeProvider.System), new ServerOptions { DataFolder = _data.FullName }, NullLogger<FolderOwner>.Instance).IsOwnAsync(Cancel);
    }

    private async Task<string> WaitingForAsync(string connection, string words)
    {
        var options = new ServerOptions { Port = 0, DataFolder = _data.FullName, Connection = connection, IsDatabaseGiven = true, Clock = ClockKind.Stepped };
        await using var app = Application.Build(options, services => services.AddSingleton(RunningServer.StandIns));
        await app.StartAsync(Cancel);
        using var http = new HttpClient { BaseAddress = new Uri(app.Urls.First()) };
        try
        {
            while (true)
            {
                var said = (string?)JsonNode.Parse(await http.GetStringAsync(new Uri("/api/status", UriKind.Relative), Cancel))!["waitingFor"] ?? "";
                if (said.Contains(words, StringComparison.Ordinal))
                {
                    return said;
                }

                await Task.Yield();
            }
        }
        finally
        {
            await app.StopAsync(CancellationToken.None);
        }
    }
}
