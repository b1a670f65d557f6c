using Npgsql;
using Zenrik.Workshop.Demo;

namespace Zenrik.Web.Hosting;

/// <summary>"prepare": migrates the database and fills an empty one, then ends.</summary>
internal static class PrepareCommand
{
    /// <param name="fleet">Units to generate beyond the demo's own.</param>
    /// <returns>The process's exit code.</returns>
    /// <param name="role">The role the program itself signs in as, when that is not the tables' owner.</param>
    public static async Task<int> Run(IServiceProvider services, bool withDemo, int fleet, string? role)
    {
        await using var scope = services.CreateAsyncScope();
        try
        {
            var prepare = scope.ServiceProvider.GetRequiredService<PrepareDatabase>();
            foreach (var sentence in await prepare.Run(withDemo, fleet, role, Console.WriteLine))
            {
                Console.WriteLine(sentence);
            }

            return 0;
        }
        catch (Exception e) when (e.GetBaseException() is NpgsqlException or System.Net.Sockets.SocketException)
        {
            await Console.Error.WriteLineAsync(e.GetBaseException().Message);
            return 1;
        }
    }
}
