using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Hosting.Server;
using Microsoft.AspNetCore.Hosting.Server.Features;
using Microsoft.AspNetCore.Http;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging;

namespace Zenrik.Workshop.Tests;

/// <summary>A supplier that means harm: it sends without end, sends in circles, and sends nonsense.</summary>
internal sealed class Hostile : IAsyncDisposable
{
    private const string Header = "number,grade,price,weight_kg,minimum,in_stock,handling_days\r\n";
    private readonly WebApplication app;

    private Hostile(WebApplication app) => this.app = app;

    /// <summary>A number it claims to have.</summary>
    public string Number { get; set; } = "";

    public string Address =>
        app.Services.GetRequiredService<IServer>().Features.Get<IServerAddressesFeature>()!.Addresses.First() + "/";

    public static async Task<Hostile> Start()
    {
        var builder = WebApplication.CreateSlimBuilder();
        builder.Logging.ClearProviders();
        var app = builder.Build();
        var hostile = new Hostile(app);
        app.Urls.Add("http://127.0.0.1:0");
        app.MapGet("/{way}/terms.json", (string way) => Results.Text(Terms(way), "application/json"));
        app.MapGet("/round/prices.csv", () => Results.Redirect("/round/prices.csv"));
        app.MapGet("/huge/prices.csv", (HttpContext context) => hostile.Endless(context, TimeSpan.Zero));
        app.MapGet("/slow/prices.csv", (HttpContext context) => hostile.Endless(context, TimeSpan.FromSeconds(1)));
        app.MapGet("/no-lines/prices.json", () => Results.Text("{\"lines\":null}"));
        app.MapGet("/gaps/prices.json", () => Results.Text("{\"lines\":[null,{\"number\":null},{}]}"));
        app.MapGet("/absurd/prices.csv", () => Results.Text($"{Header}{hostile.Number},brand,-5,1,1,,0\r\n"));
        app.MapGet(
            "/wide/prices.csv",
            () => Results.Text($"{Header}{hostile.Number},brand,5,1,99999999999999999999,,0\r\n")
        );
        app.MapGet(
            "/script/prices.csv",
            () => Results.Text($"{Header}\"=cmd|' /C calc'!A0\",brand,1,1,1,,0\r\n<script>,brand,1,1,1,,0\r\n")
        );
        await app.StartAsync();
        return hostile;
    }

    private static string Terms(string way) =>
        $$"""
            {"currency":"GBP","dutyShare":0,"taxShare":0,"taxIncluded":true,"minimumOrder":null,"refundShare":1,"returnFreight":1,
             "freight":[{"name":"<b>ferry</b>","base":1,"perKg":1,"brokerage":0,"brokerageIncluded":true,"carrier":"ferry","sails":["monday"],"transitDays":1}],
             "prices":"{{(way is "gaps" or "no-lines" ? "prices.json" : "prices.csv")}}"}
            """;

    private async Task Endless(HttpContext context, TimeSpan pause)
    {
        await context.Response.WriteAsync(Header);
        for (var i = 0; i < 100_000 && !context.RequestAborted.IsCancellationRequested; i++)
        {
            await context.Response.WriteAsync(string.Concat(Enumerable.Repeat($"{Number}-{i},brand,1,1,1,,0\r\n", 50)));
            await Task.Delay(pause, context.RequestAborted);
        }
    }

    public async ValueTask DisposeAsync() => await app.DisposeAsync();
}
