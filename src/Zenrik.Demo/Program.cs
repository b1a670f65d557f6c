using Zenrik.Demo.People;
using Zenrik.Demo.Suppliers;
using Zenrik.Demo.Units;
using Zenrik.Demo.World;
using Zenrik.Workshop;
using Zenrik.Workshop.Preparing;

namespace Zenrik.Demo;

/// <summary>
/// The invented world beside the product, which knows nothing of it. "prepare" makes it in a database nobody uses yet;
/// "provider" is its identity provider; otherwise its suppliers and its machines answer for as long as the world is loaded.
/// </summary>
internal static class Program
{
    private static async Task<int> Main(string[] args)
    {
        var builder = WebApplication.CreateBuilder(args);
        if (args.Contains("provider"))
        {
            await using var provider = await IdentityProvider.Start(
                builder.Configuration["urls"] ?? "http://127.0.0.1:5219"
            );
            await provider.UntilStopped();
            return 0;
        }

        var prepares = args.Contains("prepare");
        var connection =
            builder.Configuration.GetConnectionString("Workshop")
            ?? throw new InvalidOperationException("No database is named. Start through ./zenrik start.");
        var owner = prepares ? builder.Configuration.GetConnectionString("Owner") : null;
        builder.Services.AddWorkshop(owner ?? connection);
        builder.Services.AddScoped<MakeWorld>();
        builder.Services.AddScoped<LoadDemo>();
        builder.Services.AddSingleton(
            new Product(new Uri(builder.Configuration["product"] ?? "http://127.0.0.1:5217", UriKind.Absolute))
        );
        builder.Services.AddRazorPages(options => options.RootDirectory = "/Units");
        builder.WebHost.ConfigureKestrel(options => options.AddServerHeader = false);

        var app = builder.Build();
        if (prepares)
        {
            var fleet = Math.Clamp(builder.Configuration.GetValue<int?>("fleet") ?? 0, 0, 1_000_000);
            return await PrepareDatabase.Report(
                app.Services,
                async services =>
                    await services
                        .GetRequiredService<MakeWorld>()
                        .Run(
                            !args.Contains("--empty"),
                            fleet,
                            PrepareDatabase.RoleOf(connection, owner),
                            Console.WriteLine
                        )
            );
        }

        await using (var scope = app.Services.CreateAsyncScope())
        {
            if (!await DemoMark.IsLoaded(scope.ServiceProvider.GetRequiredService<WorkshopDb>()))
            {
                return 0;
            }
        }

        app.UseSecurityHeaders(policies => policies.AddDefaultSecurityHeaders());
        app.MapSuppliers();
        app.MapRazorPages();
        app.SayWhereItIs();
        await app.RunAsync();
        return 0;
    }
}
