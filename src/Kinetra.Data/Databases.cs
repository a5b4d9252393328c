using Microsoft.EntityFrameworkCore;

namespace Kinetra.Data;

/// <summary>What is asked of a database as a whole.</summary>
public static class Databases
{
    /// <summary>How it keeps texts: UTF8, or PostgreSQL's name of another encoding.</summary>
    public static Task<string> EncodingAsync(KinetraContext context, CancellationToken cancel) =>
        context.Database.SqlQuery<string>($"select pg_encoding_to_char(encoding)::text as \"Value\" from pg_database where datname = current_database()").SingleAsync(cancel);
}
