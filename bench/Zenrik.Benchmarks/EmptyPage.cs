using Microsoft.AspNetCore.Hosting.Server;
using Microsoft.AspNetCore.Hosting.Server.Features;

namespace Zenrik.Benchmarks;

/// <summary>A Razor page with nothing on it, over HTTP: what any page costs at least.</summary>
internal sealed class EmptyPage : IAsyncDisposable
{
    private readonly WebApplication app;
    private readonly HttpClient http = new();

    private EmptyPage(WebApplication app) => this.app = app;

    public static async Task<EmptyPage> Start()
    {
        var builder = WebApplication.CreateBuilder();
        builder.Logging.ClearProviders();
        builder.Services.AddRazorPages();
        var app = builder.Build();
        app.Urls.Add("http://127.0.0.1:0");
        app.MapRazorPages();
        await app.StartAsync();
        return new EmptyPage(app);
    }

    /// <summary>Median milliseconds from the request to the last byte.</summary>
    public async Task<double> Median(int runs) => Measure.Quantile(await Times(runs), 0.5);

    /// <summary>Milliseconds of each run, shortest first.</summary>
    public Task<IReadOnlyList<double>> Times(int runs) => Measure.Times(Get, runs);

    public Task Get()
    {
        var address = app
            .Services.GetRequiredService<IServer>()
            .Features.Get<IServerAddressesFeature>()!
            .Addresses.First();
        return http.GetStringAsync(new Uri(new Uri(address), "/empty"));
    }

    public async ValueTask DisposeAsync()
    {
        http.Dispose();
        await app.DisposeAsync();
    }
}
