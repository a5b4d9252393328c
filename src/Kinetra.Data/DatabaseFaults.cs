using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace Kinetra.Data;

/// <summary>Tells a database that is away from a request that is wrong.</summary>
public static class DatabaseFaults
{
    /// <summary>True where the database did not answer, or not in time, or turned us away: the same may work later.</summary>
    public static bool IsAway(Exception fault) => fault switch
    {
        DbUpdateConcurrencyException => false,
        PostgresException answer => !IsIntegrity(answer),
        NpgsqlException or TimeoutException or OperationCanceledException or System.Net.Sockets.SocketException => true,
        DbUpdateException or InvalidOperationException => fault.InnerException is { } inner && IsAway(inner),
        _ => false,
    };

    // Class 23 of the SQL standard: what was to be stored contradicts what is.
    private static bool IsIntegrity(PostgresException answer) => answer.SqlState.StartsWith("23", StringComparison.Ordinal);
}
