using System.Net;
using System.Reflection;
using System.Text.RegularExpressions;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Http;
using Microsoft.AspNetCore.Http.Metadata;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.AspNetCore.Routing;
using Microsoft.AspNetCore.TestHost;
using Microsoft.EntityFrameworkCore.Diagnostics;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging;
using Microsoft.Extensions.Logging.Abstractions;
using Zenrik.Core;
using Zenrik.Demo.World;
using Zenrik.Workshop.People;

namespace Zenrik.Workshop.Tests.Web;

/// <summary>Something the program answers: a page's handler, a fragment, a stream or a call of the API.</summary>
/// <param name="Handler">The page's named handler; empty: none.</param>
/// <param name="Model">The page's model; null: no page.</param>
/// <param name="Method">The page model's method.</param>
internal sealed record Answered(string Verb, string Route, string Handler, Type? Model, MethodInfo? Method)
{
    public bool IsApi => Route.StartsWith("/api/", StringComparison.Ordinal);

    public override string ToString() => $"{Verb} {Route}{(Handler.Length == 0 ? "" : $"?handler={Handler}")}";

    /// <summary>The address with something in the place of every parameter.</summary>
    public string Address(Func<string, string> value) =>
        Regex.Replace(
            Route,
            @"\{\*?([a-zA-Z]+)(?::(\w+))?\??\}",
            m =>
                Uri.EscapeDataString(
                    value(m.Groups[2].Value is "guid" or "int" or "long" ? m.Groups[2].Value : m.Groups[1].Value)
                )
        ) + (Handler.Length == 0 ? "" : $"?handler={Handler}");
}

/// <summary>The program itself, in this process, on a book of its own.</summary>
internal sealed partial class RunningProgram : IAsyncDisposable
{
    private readonly Book book;
    private readonly WebApplicationFactory<Program> program;

    private RunningProgram(Book book, IReadOnlyDictionary<string, string> settings)
    {
        this.book = book;
        program = new WebApplicationFactory<Program>().WithWebHostBuilder(web =>
        {
            web.UseEnvironment("Production");
            web.UseSetting("ConnectionStrings:Workshop", book.Connection);
            web.ConfigureTestServices(s =>
                s.AddSingleton<TimeProvider>(Clock).Configure<TestServerOptions>(o => o.PreserveExecutionContext = true)
            );
            web.ConfigureLogging(log =>
                log.AddProvider(new Heard(this))
                    .AddProvider(new StatementLog())
                    .AddFilter<StatementLog>(StatementLog.Category, LogLevel.Information)
            );
            foreach (var (key, value) in settings)
            {
                web.UseSetting(key, value);
            }
        });
    }

    public static async Task<RunningProgram> On(TemplateDatabase template, params (string, string)[] settings) =>
        new(await template.NewBook(), settings.ToDictionary(s => s.Item1, s => s.Item2));

    public Book Book => book;

    /// <summary>The program's clock, which a test may put forward.</summary>
    public ShiftedClock Clock { get; } = new();

    /// <summary>The last fault the program has written into its log.</summary>
    public string LastFault { get; private set; } = "";

    /// <summary>Everything the program answers but static files, from its own list of endpoints.</summary>
    public IReadOnlyList<Answered> Everything()
    {
        var all = new List<Answered>();
        foreach (
            var endpoint in program.Services.GetRequiredService<EndpointDataSource>().Endpoints.OfType<RouteEndpoint>()
        )
        {
            var route = "/" + endpoint.RoutePattern.RawText!.TrimStart('/');
            if (endpoint.Metadata.GetMetadata<PageActionDescriptor>() is { } page)
            {
                var model = typeof(Zenrik.Web.Rooms.RoomPage).Assembly.GetType(
                    $"Zenrik.Web.Rooms.{page.ViewEnginePath.TrimStart('/').Replace('/', '.')}Model"
                );
                if (model is null)
                {
                    all.Add(new Answered("GET", route, "", null, null));
                    continue;
                }

                foreach (var method in model.GetMethods().Where(m => HandlerName().IsMatch(m.Name)))
                {
                    var name = HandlerName().Match(method.Name);
                    all.Add(
                        new Answered(
                            name.Groups[1].Value.ToUpperInvariant(),
                            route,
                            name.Groups[2].Value,
                            model,
                            method
                        )
                    );
                }
            }
            else if (
                endpoint.Metadata.GetMetadata<Microsoft.AspNetCore.StaticAssets.StaticAssetDescriptor>() is null
                && !route.EndsWith(":file}", StringComparison.Ordinal)
            )
            {
                foreach (var verb in endpoint.Metadata.GetMetadata<IHttpMethodMetadata>()?.HttpMethods ?? ["GET"])
                {
                    all.Add(new Answered(verb, route, "", null, null));
                }
            }
        }

        return [.. all.DistinctBy(a => a.ToString()).OrderBy(a => a.ToString(), StringComparer.Ordinal)];
    }

    /// <summary>Something that sends requests, and follows no redirection.</summary>
    public HttpClient Client() =>
        program.CreateClient(new WebApplicationFactoryClientOptions { AllowAutoRedirect = false });

    /// <summary>A browser of somebody's; null: of nobody who has signed in.</summary>
    public async Task<Visitor> Visit(string? signIn)
    {
        var visitor = new Visitor(Client());
        await visitor.SignIn(signIn);
        return visitor;
    }

    /// <summary>A program of the lead's, with a token for one scope.</summary>
    public async Task<Visitor> VisitWith(string scope)
    {
        var token = await book.Do<ApiTokens, Outcome<string>>(t => t.Make(scope, book.Lead, [scope]));
        var visitor = await Visit(null);
        visitor.Http.DefaultRequestHeaders.Authorization = new("Bearer", token.Value);
        return visitor;
    }

    /// <summary>A page asked for as the connection and the headers say.</summary>
    public async Task<HttpResponse> Ask(string path, Action<HttpContext> asking) =>
        (
            await program.Server.SendAsync(context =>
            {
                (context.Request.Method, context.Request.Path) = ("GET", path);
                asking(context);
            })
        ).Response;

    public async ValueTask DisposeAsync()
    {
        await program.DisposeAsync();
        await book.DisposeAsync();
    }

    private sealed class Heard(RunningProgram program) : ILoggerProvider, ILogger
    {
        public ILogger CreateLogger(string categoryName) => this;

        public IDisposable? BeginScope<TState>(TState state)
            where TState : notnull => null;

        public bool IsEnabled(LogLevel logLevel) => logLevel >= LogLevel.Error;

        public void Log<TState>(
            LogLevel logLevel,
            EventId eventId,
            TState state,
            Exception? exception,
            Func<TState, Exception?, string> formatter
        )
        {
            if (exception is not null)
            {
                var where = exception
                    .StackTrace?.Split('\n')
                    .FirstOrDefault(l => l.Contains("Zenrik", StringComparison.Ordinal));
                program.LastFault =
                    $"{formatter(state, exception)}: {exception.GetType().Name}: {exception.Message.Split('\n')[0]} {where?.Trim()}";
            }
        }

        public void Dispose() { }
    }

    [GeneratedRegex("^On(Get|Post)([A-Za-z]*?)(Async)?$")]
    private static partial Regex HandlerName();
}

/// <summary>Sends requests as a browser does, with its cookies and the form's token.</summary>
internal sealed partial class Visitor(HttpClient http) : IDisposable
{
    private string token = "";

    public HttpClient Http => http;

    public async Task SignIn(string? name)
    {
        await ReadToken("/sign-in");
        if (name is null)
        {
            return;
        }

        using var answer = await Post(
            "/sign-in",
            new Dictionary<string, string> { ["name"] = name, ["password"] = LoadDemo.Password }
        );
        answer.StatusCode.ShouldBe(HttpStatusCode.Redirect);
        await ReadToken("/account");
    }

    /// <summary>The statements the program sends for one look at a page, in their order.</summary>
    public async Task<IReadOnlyList<string>> Statements(string address)
    {
        var seen = StatementLog.Begin();
        using var answer = await http.GetAsync(address);
        answer.StatusCode.ShouldBe(HttpStatusCode.OK, address);
        return seen;
    }

    /// <summary>Posts a form with the page's token.</summary>
    public Task<HttpResponseMessage> Post(string address, IEnumerable<KeyValuePair<string, string>> fields) =>
        http.PostAsync(address, Form(fields));

    /// <summary>A form with the page's token.</summary>
    public FormUrlEncodedContent Form(IEnumerable<KeyValuePair<string, string>> fields) =>
        new([.. fields, new KeyValuePair<string, string>("__RequestVerificationToken", token)]);

    /// <summary>Posts a form in parts, as one with a file is; gives the answer's status.</summary>
    public async Task<int> PostParts(string address, params (string Name, string Value)[] fields)
    {
        using var form = new MultipartFormDataContent { { new StringContent(token), "__RequestVerificationToken" } };
        foreach (var (name, value) in fields)
        {
            form.Add(new StringContent(value), name);
        }

        using var answer = await http.PostAsync(address, form);
        return (int)answer.StatusCode;
    }

    /// <summary>A form's token belongs to whoever asked for the page.</summary>
    public async Task ReadToken(string page)
    {
        var html = await http.GetStringAsync(page);
        token = FormToken().Match(html).Groups[1].Value;
        token.ShouldNotBeEmpty();
    }

    public void Dispose() => http.Dispose();

    [GeneratedRegex("name=\"__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)\"")]
    private static partial Regex FormToken();
}

/// <summary>What EF Core sends on behalf of the request a test is making; of others it takes no note.</summary>
internal sealed class StatementLog : ILoggerProvider, ILogger
{
    public const string Category = "Microsoft.EntityFrameworkCore.Database.Command";

    private static readonly AsyncLocal<List<string>?> Seen = new();

    public static List<string> Begin() => Seen.Value = [];

    public ILogger CreateLogger(string categoryName) => categoryName == Category ? this : NullLogger.Instance;

    public IDisposable? BeginScope<TState>(TState state)
        where TState : notnull => null;

    public bool IsEnabled(LogLevel logLevel) => true;

    public void Log<TState>(
        LogLevel logLevel,
        EventId eventId,
        TState state,
        Exception? exception,
        Func<TState, Exception?, string> formatter
    )
    {
        if (eventId.Id == RelationalEventId.CommandExecuted.Id && Seen.Value is { } seen)
        {
            seen.Add(formatter(state, exception));
        }
    }

    public void Dispose() { }
}
