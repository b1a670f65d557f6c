using System.Net.Sockets;
using Npgsql;

namespace Zenrik.Workshop;

/// <summary>Tells a database that is away from a fault of ours: what failed so may simply be sent again.</summary>
public static class Away
{
    /// <summary>True when PostgreSQL did not answer, broke off, or is just starting or ending.</summary>
    public static bool Tells(Exception exception)
    {
        for (var e = exception; e is not null; e = e.InnerException!)
        {
            if (
                e
                    is SocketException
                        or PostgresException
                        {
                            SqlState: PostgresErrorCodes.AdminShutdown
                                or PostgresErrorCodes.CrashShutdown
                                or PostgresErrorCodes.CannotConnectNow
                        }
                        // A transaction whose connection broke off under it.
                        or InvalidOperationException { Source: "Npgsql" }
                || (
                    e is NpgsqlException and not PostgresException
                    && e.InnerException is IOException or TimeoutException
                )
            )
            {
                return true;
            }
        }

        return false;
    }

    /// <summary>True for what the database refused as well: enough for work in the background that is done again later.</summary>
    public static bool OrRefused(Exception exception) =>
        Tells(exception) || exception.GetBaseException() is NpgsqlException;
}
