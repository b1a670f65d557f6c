using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Hosting.Server;
using Microsoft.AspNetCore.Hosting.Server.Features;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Hosting;
using Microsoft.Extensions.Logging;
using Zenrik.Core;
using Zenrik.Core.Sourcing;
using Zenrik.Demo.Suppliers;
using Zenrik.Demo.World;
using Zenrik.Workshop.Sourcing;

namespace Zenrik.Workshop.Tests;

/// <summary>The supplier stand-in on a port of its own, for all tests of a run.</summary>
internal static class Suppliers
{
    private static readonly Lazy<Uri> Running = new(() =>
    {
        var builder = WebApplication.CreateSlimBuilder();
        builder.Logging.ClearProviders();
        var app = builder.Build();
        app.Urls.Add("http://127.0.0.1:0");
        app.MapSuppliers();
        app.Start();
        return new Uri(
            app.Services.GetRequiredService<IServer>().Features.Get<IServerAddressesFeature>()!.Addresses.First()
        );
    });

    public static Uri Address => Running.Value;

    /// <summary>Lets a book's suppliers be those.</summary>
    public static Task Answer(Book book) =>
        book.Ask(async db =>
        {
            await Place.Is(db, Address);
            return true;
        });

    /// <summary>A supplier without a shop on the network that has one number for a penny, of which the shelf is far short.</summary>
    public static async Task<Guid> Tern(this Book book, string number, PartGrade grade)
    {
        var terms = new KeptTerms
        {
            Currency = "GBP",
            Freight = [new KeptFreight("post", 1, 0, [DayOfWeek.Monday], 1)],
        };
        var tern = (
            await book.Do<KeepSuppliers, Outcome<Guid>>(k => k.Add("Tern & Sons", null, terms, book.Lead))
        ).Value;
        _ = (
            await book.Do<KeepSuppliers, Outcome<string>>(k =>
                k.Price(tern, new KeptPrice(number, grade, 1), book.Lead)
            )
        ).Value;
        (
            await book.Sql(
                $"UPDATE catalogue_numbers SET minimum_level = 90, order_up_to = 95 WHERE number = '{number}'"
            )
        ).ShouldBeNull();
        return tern;
    }

    /// <summary>Answers of suppliers that a test makes up, by the end of their address.</summary>
    public static Dictionary<string, string> MadeUp { get; } = [];

    public static HttpMessageHandler Handler() => new Answering { InnerHandler = new SocketsHttpHandler() };

    private sealed class Answering : DelegatingHandler
    {
        protected override Task<HttpResponseMessage> SendAsync(HttpRequestMessage request, CancellationToken stop)
        {
            var path = request.RequestUri!.AbsolutePath;
            return MadeUp.FirstOrDefault(m => path.EndsWith(m.Key, StringComparison.Ordinal)).Value is { } text
                ? Task.FromResult(new HttpResponseMessage { Content = new StringContent(text) })
                : base.SendAsync(request, stop);
        }
    }
}
