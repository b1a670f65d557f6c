using System.Text;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;
using Zenrik.Demo.World;

[assembly: AssemblyFixture(typeof(Zenrik.Workshop.Tests.TemplateDatabase))]

namespace Zenrik.Workshop.Tests;

/// <summary>A database with the demo world, made once a run; every test copies it, which takes a fraction of a second.</summary>
public sealed class TemplateDatabase : IAsyncLifetime
{
    private readonly string server =
        Environment.GetEnvironmentVariable("ZENRIK_TEST_CONNECTION")
        ?? throw new InvalidOperationException(
            "These tests need a PostgreSQL of their own: run ./zenrik test workshop."
        );

    private const string Template = "zenrik_template";

    public async ValueTask InitializeAsync()
    {
        await Server($"DROP DATABASE IF EXISTS {Template}");
        await Server($"CREATE DATABASE {Template}");
        await using (var book = Book.Open(To(Template)))
        {
            await book.Do<MakeWorld, IReadOnlyList<string>>(p => p.Run(withDemo: true));
        }

        NpgsqlConnection.ClearAllPools();
    }

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    /// <summary>A fresh copy of the demo world, or an empty database.</summary>
    internal async Task<Book> NewBook(bool empty = false)
    {
        var name = $"t{Guid.NewGuid():N}";
        await Server($"CREATE DATABASE {name}{(empty ? "" : $" TEMPLATE {Template}")}");
        return Book.Open(To(name));
    }

    private string To(string database) =>
        new NpgsqlConnectionStringBuilder(server)
        {
            Database = database,
            MaxPoolSize = 40,
            // Every test has a pool of its own; what it leaves behind must not crowd out those that follow.
            ConnectionIdleLifetime = 3,
            ConnectionPruningInterval = 1,
        }.ConnectionString;

    private async Task Server(string sql)
    {
        await using var source = NpgsqlDataSource.Create(server);
        await using var command = source.CreateCommand(sql);
        await command.ExecuteNonQueryAsync();
    }
}

/// <summary>One workshop's book with everything that works on it; each use gets a scope of its own, as a request does.</summary>
internal sealed class Book : IAsyncDisposable
{
    private readonly ServiceProvider services;

    private Book(ServiceProvider services, string connection, ShiftedClock clock) =>
        (this.services, Connection, Clock) = (services, connection, clock);

    /// <summary>The clock of everything that works on it, which a test may put forward.</summary>
    public ShiftedClock Clock { get; }

    public string Connection { get; }

    public static Book Open(string connection)
    {
        var clock = new ShiftedClock();
        return new(
            new ServiceCollection()
                .AddLogging()
                .AddWorkshop(connection)
                .AddSingleton<TimeProvider>(clock)
                .AddScoped<MakeWorld>()
                .AddScoped<LoadDemo>()
                .ConfigureHttpClientDefaults(http => http.ConfigurePrimaryHttpMessageHandler(_ => Suppliers.Handler()))
                .BuildServiceProvider(),
            connection,
            clock
        );
    }

    public async Task<TResult> Do<TUseCase, TResult>(Func<TUseCase, Task<TResult>> use)
        where TUseCase : notnull
    {
        await using var scope = services.CreateAsyncScope();
        return await use(scope.ServiceProvider.GetRequiredService<TUseCase>());
    }

    public Task<T> Ask<T>(Func<WorkshopDb, Task<T>> query) => Do(query);

    /// <summary>Runs SQL as somebody with psql would; gives the database's refusal, or null.</summary>
    public async Task<string?> Sql(string sql)
    {
        try
        {
            await Ask(db => db.Database.ExecuteSqlRawAsync(sql));
            return null;
        }
        catch (PostgresException e)
        {
            return e.ConstraintName ?? e.MessageText;
        }
    }

    public Task<Actor> Person(string signIn) =>
        Ask(db => db.Users.Where(u => u.UserName == signIn).Select(u => new Actor(u.Id, u.Name)).SingleAsync());

    private Actor? lead;

    /// <summary>The demo's lead, for what any lead may do.</summary>
    public Actor Lead => lead ??= Task.Run(() => Person("mara")).GetAwaiter().GetResult();

    public ValueTask DisposeAsync() => services.DisposeAsync();
}
