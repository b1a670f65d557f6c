using Zenrik.Workshop.Demo;

namespace Zenrik.Web.Hosting;

/// <summary>Simulated suppliers and units belong to the demo world: a real workshop's program knows no such address.</summary>
internal static class StandIns
{
    public static void UseStandInsWithDemoOnly(this IApplicationBuilder app) =>
        app.UseWhen(
            context => context.Request.Path.StartsWithSegments("/stand-in"),
            standIns =>
                standIns.Use(
                    async (context, next) =>
                    {
                        var demo = context.RequestServices.GetRequiredService<DemoSignIns>();
                        if ((await demo.Run(context.RequestAborted)).Count > 0)
                        {
                            await next(context);
                        }
                        else
                        {
                            context.Response.StatusCode = StatusCodes.Status404NotFound;
                        }
                    }
                )
        );
}
