using Kinetra.Data;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace Kinetra.Tests.Shared;

/// <summary>A database of a real PostgreSQL, made for one test and gone after it.</summary>
public sealed class TestDatabase : IAsyncLifetime
{
    private readonly string _name = $"test_{Guid.NewGuid():n}";

    /// <summary>How to reach it. Where the host takes the processor away, an answer may be longer in coming than a person would wait.</summary>
    public string Connection => new NpgsqlConnectionStringBuilder(Server) { Database = _name, Timeout = 120, CommandTimeout = 120 }.ConnectionString;

    private static string Server => Environment.GetEnvironmentVariable("KINETRA_DB")
        ?? throw new InvalidOperationException("These tests need the PostgreSQL that ./kinetra test starts.");

    /// <summary>Contexts of it.</summary>
    public IDbContextFactory<KinetraContext> Contexts => new Factory(Connection);

    public ValueTask InitializeAsync() => InitializeAsync("");

    /// <summary>Makes it another than usual.</summary>
    /// <param name="how">What follows its name in create database.</param>
    public async ValueTask InitializeAsync(string how) => await RunAsync($"create database {_name} {how}");

    public async ValueTask DisposeAsync()
    {
        // Its own only: those of servers that run beside it in this process go on.
        await using (var own = new NpgsqlConnection(Connection))
        {
            NpgsqlConnection.ClearPool(own);
        }

        await RunAsync($"drop database if exists {_name} with (force)");
    }

    /// <summary>Lets nobody in any more, and throws out who is in; or lets them in again.</summary>
    public async Task AllowConnectionsAsync(bool allow)
    {
        await RunAsync($"alter database {_name} allow_connections {(allow ? "true" : "false")}");
        if (!allow)
        {
            await RunAsync($"select pg_terminate_backend(pid) from pg_stat_activity where datname = '{_name}'");
        }
    }

    private static async Task RunAsync(string sql)
    {
        await using var connection = new NpgsqlConnection(new NpgsqlConnectionStringBuilder(Server) { Database = "postgres", Pooling = false, Timeout = 120, CommandTimeout = 120 }.ConnectionString);
        await connection.OpenAsync();
        await using var command = new NpgsqlCommand(sql, connection);
        await command.ExecuteNonQueryAsync();
    }

    private sealed class Factory(string connection) : IDbContextFactory<KinetraContext>
    {
        public KinetraContext CreateDbContext()
        {
            var builder = new DbContextOptionsBuilder<KinetraContext>();
            KinetraContext.Configure(builder, connection);
            return new KinetraContext(builder.Options);
        }
    }
}
