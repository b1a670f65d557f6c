using Zenrik.Web.Hosting;
using Zenrik.Workshop.Operating;
using Zenrik.Workshop.Preparing;
using Zenrik.Workshop.Teardown;

if (args.Contains("--version"))
{
    Console.WriteLine($"Zenrik {Show.Version}");
    return 0;
}

if (args.Contains("migrations"))
{
    Console.WriteLine(string.Join('\n', PrepareDatabase.Steps));
    return 0;
}

WebApplication app;
try
{
    app = Made(args);
    Serve(app);
}
catch (InvalidOperationException wrong)
{
    // A configuration that cannot be meant is a sentence, not a trace; 78 is sysexits' EX_CONFIG.
    Console.Error.WriteLine($"zenrik: {wrong.Message}");
    return 78;
}

if (args.Contains("prepare"))
{
    var settings = app.Configuration;
    return await PrepareDatabase.Report(
        app.Services,
        services =>
            services
                .GetRequiredService<PrepareDatabase>()
                .Run(role: PrepareDatabase.RoleOf(settings.Connection("Workshop")!, settings.Connection("Owner")))
    );
}

if (args is ["erase-name", ..])
{
    var name = args.Skip(1).FirstOrDefault(a => !a.StartsWith("--", StringComparison.Ordinal));
    return await PrepareDatabase.Report(
        app.Services,
        services => services.GetRequiredService<EraseName>().Run(name, app.Configuration["by"], args.Contains("--yes"))
    );
}

if (await Unfit(app) is { } unfit)
{
    Console.Error.WriteLine($"zenrik: {unfit}");
    return 78;
}

await app.RunAsync();
return 0;

static async Task<string?> Unfit(WebApplication app)
{
    await using var scope = app.Services.CreateAsyncScope();
    return await scope.ServiceProvider.GetRequiredService<KnowTables>().Refusal(new Version(Show.Version));
}

static WebApplication Made(string[] args)
{
    var builder = WebApplication.CreateBuilder(args);
    var connection =
        builder.Configuration.Connection("Workshop")
        ?? throw new InvalidOperationException(
            "No database is named. Say which in ConnectionStrings__Workshop: in the environment, or in /etc/zenrik/zenrik.conf where Zenrik is installed."
        );

    // The owner of the tables makes and changes them; the program that serves signs in as somebody who cannot.
    var owner =
        args.Contains("prepare") || args is ["erase-name", ..] ? builder.Configuration.Connection("Owner") : null;

    builder.Services.AddSingleton(
        new PlanningTime(
            TimeSpan.FromSeconds(Math.Clamp(builder.Configuration.GetValue("Planning:Seconds", 2.0), 0.05, 60))
        )
    );
    builder.Services.AddMail(builder.Configuration);
    builder.Services.AddWorkshop(owner ?? connection);
    builder.Services.AddSignIn(builder.Configuration);
    builder.Services.AddRooms();
    builder.Services.AddApi();
    builder.Services.AddSingleton(p => new Follower(
        builder.Configuration.Connection("Follower"),
        p.GetRequiredService<TimeProvider>()
    ));
    // A pooler in transaction mode hears nothing: news may have a connection of their own.
    builder.Services.AddNews(builder.Configuration.Connection("News") ?? connection);
    builder.Services.AddHostedService<HouseTime>();
    builder.Services.AddHostedService<Serving>();
    builder.Services.AddTelemetry(builder.Configuration);
    builder.Services.AddHealthChecks().AddNpgSql(connection, tags: ["ready"]);

    // A service that cannot be made is found when the program starts, not when somebody first needs it.
    builder.Host.UseDefaultServiceProvider(options => (options.ValidateOnBuild, options.ValidateScopes) = (true, true));
    builder.WebHost.ConfigureKestrel(options => options.AddServerHeader = false);
    return builder.Build();
}

static void Serve(WebApplication app)
{
    app.UseNamedProxies();
    app.UseProblemPages();
    app.UseWorkshopHeaders();
    app.UseApiLimits();
    app.UseStorableAddresses();
    app.UseJustWritten();
    app.UseRouting();
    app.UseAuthentication();
    app.UseOwnPasswords();
    app.UseAuthorization();
    app.MapStaticAssets().AllowAnonymous();
    app.MapHealth();
    app.MapApi();
    app.MapRazorPages();
    app.MapPhotos();
    app.MapGivenLists();
    app.MapNews();
}
