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
        PostgresException answer => MeansAway.Contains(answer.SqlState[..2]),
        NpgsqlException or TimeoutException or OperationCanceledException or System.Net.Sockets.SocketException => true,
        DbUpdateException or InvalidOperationException => fault.InnerException is { } inner && IsAway(inner),
        _ => false,
    };

    /// <summary>True where the database turned the user away, or does not let him do what he wants.</summary>
    public static bool Refused(Exception fault) => fault switch
    {
        // Authorization; no such database; insufficient privilege.
        PostgresException answer => answer.SqlState[..2] is "28" or "3D" || answer.SqlState == PostgresErrorCodes.InsufficientPrivilege,
        DbUpdateException or InvalidOperationException => fault.InnerException is { } inner && Refused(inner),
        _ => false,
    };

    // Classes of PostgreSQL's error codes (its manual, appendix A): connection, authorization, no such database, rolled back, out of
    // resources, not in the right state, stopped by an operator, the system below, corruption and faults of its own. All others
    // speak of what was asked: the same would be refused for ever.
    private static readonly HashSet<string> MeansAway = ["08", "28", "3D", "40", "53", "55", "57", "58", "F0", "XX"];
}
