using Zenrik.SupplierStandIn;
using Zenrik.Web.Hosting;
using Zenrik.Workshop;

var builder = WebApplication.CreateBuilder(args);
var connection =
    builder.Configuration.GetConnectionString("Workshop")
    ?? throw new InvalidOperationException("No database is named. Start through ./zenrik start.");

builder.Services.AddWorkshop(connection);
builder.Services.AddSignIn();
builder.Services.AddRooms();
builder.Services.AddApi();
builder.Services.AddNews(connection);
builder.Services.AddHealthChecks().AddNpgSql(connection, tags: ["ready"]);

builder.WebHost.ConfigureKestrel(options => options.AddServerHeader = false);

var app = builder.Build();
if (args.Contains("prepare"))
{
    var fleet = builder.Configuration.GetValue<int?>("fleet") ?? 0;
    return await PrepareCommand.Run(app.Services, withDemo: !args.Contains("--empty"), Math.Clamp(fleet, 0, 1_000_000));
}

app.UseProblemPages();
app.UseWorkshopHeaders();
app.UseStorableAddresses();
app.UseStandInsWithDemoOnly();
app.UseAuthentication();
app.UseRouting();
app.UseAuthorization();
app.MapStaticAssets().AllowAnonymous();
app.MapHealth();
app.MapApi();
app.MapRazorPages();
app.MapPhotos();
app.MapNews();
app.MapSupplierStandIn();
app.KnowOwnAddress();
await app.RunAsync();
return 0;
