using Npgsql;

namespace Zenrik.Web.Hosting;

/// <summary>Connections to PostgreSQL as the configuration names them.</summary>
internal static class Connections
{
    /// <summary>A connection by its name; null where none is named.</summary>
    /// <exception cref="InvalidOperationException">It says something Npgsql does not know. Its password is not repeated.</exception>
    public static string? Connection(this IConfiguration configuration, string name)
    {
        if (configuration.GetConnectionString(name) is not { Length: > 0 } named)
        {
            return null;
        }

        try
        {
            return new NpgsqlConnectionStringBuilder(named).Host is { Length: > 0 }
                ? named
                : throw new InvalidOperationException($"ConnectionStrings__{name} names no Host.");
        }
        catch (Exception wrong) when (wrong is ArgumentException or FormatException)
        {
            throw new InvalidOperationException(
                $"ConnectionStrings__{name} is not as Npgsql reads it, like Host=127.0.0.1;Database=zenrik;Username=zenrik_web: {wrong.Message}",
                wrong
            );
        }
    }
}
