using System.Diagnostics;
using Npgsql;

namespace Zenrik.Workshop.Tests;

/// <summary>A PostgreSQL of one test's own, which it may kill.</summary>
internal sealed class OwnCluster : IAsyncDisposable
{
    private readonly string name = $"fire-{Environment.ProcessId}";

    /// <summary>To its database "book".</summary>
    public string Connection { get; private set; } = "";

    public static async Task<OwnCluster> Make()
    {
        var cluster = new OwnCluster();
        var server = await cluster.Run("make");
        await using var source = NpgsqlDataSource.Create(server);
        await using var command = source.CreateCommand("CREATE DATABASE book");
        await command.ExecuteNonQueryAsync();
        cluster.Connection = new NpgsqlConnectionStringBuilder(server)
        {
            Database = "book",
            MaxPoolSize = 80,
            Timeout = 5,
        }.ConnectionString;
        return cluster;
    }

    /// <summary>Ends every process of it at once with SIGKILL, and starts it again.</summary>
    public async Task KillAndRestart()
    {
        await Run("kill");
        await Run("start");
    }

    public async ValueTask DisposeAsync()
    {
        NpgsqlConnection.ClearAllPools();
        await Run("remove");
    }

    private async Task<string> Run(string what)
    {
        using var script = Process.Start(
            new ProcessStartInfo("bash", ["tools/zenrik/database.sh", what, name])
            {
                WorkingDirectory = SourceTree.Root,
                RedirectStandardOutput = true,
            }
        )!;
        // What a started server inherits stays open, so only the first line is read and the end waited for.
        var line = await script.StandardOutput.ReadLineAsync();
        await script.WaitForExitAsync();
        return script.ExitCode == 0
            ? line ?? ""
            : throw new InvalidOperationException($"{what} ended with {script.ExitCode}");
    }
}
