using System.Data.Common;
using Microsoft.EntityFrameworkCore.Diagnostics;
using Npgsql;

namespace Zenrik.Workshop.Book;

/// <summary>
/// Drops connections after an error that PostgreSQL raises while values are bound. Where the statement was being
/// prepared on the way, the driver still believes that its answer is to come, and whoever gets the connection next is
/// answered with it ("unexpected backend message DataRow").
/// </summary>
internal sealed class DropAfterBindError : DbCommandInterceptor
{
    /// <summary>Class 22 of PostgreSQL's error codes: data exceptions, those of binding among them.</summary>
    private const string DataException = "22";

    public override void CommandFailed(DbCommand command, CommandErrorEventData eventData) =>
        Drop(command, eventData.Exception);

    public override Task CommandFailedAsync(
        DbCommand command,
        CommandErrorEventData eventData,
        CancellationToken cancellationToken = default
    )
    {
        Drop(command, eventData.Exception);
        return Task.CompletedTask;
    }

    private static void Drop(DbCommand command, Exception exception)
    {
        if (
            exception is PostgresException e
            && e.SqlState.StartsWith(DataException, StringComparison.Ordinal)
            && command.Connection is NpgsqlConnection connection
        )
        {
            // Those in use are closed when they come back, this one too.
            NpgsqlConnection.ClearPool(connection);
        }
    }
}
