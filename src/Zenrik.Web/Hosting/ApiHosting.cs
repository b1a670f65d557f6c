using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Serialization;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.OpenApi;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Triage;
using Zenrik.Web.Api;

namespace Zenrik.Web.Hosting;

/// <summary>The API for programs: tokens instead of cookies, problem details instead of pages.</summary>
internal static class ApiHosting
{
    private const string Root = "/api/v1";

    public static void AddApi(this IServiceCollection services)
    {
        services.AddAuthentication().AddScheme<AuthenticationSchemeOptions, TokenSignIn>(TokenSignIn.Name, null);
        services
            .AddAuthorizationBuilder()
            .AddPolicy(TokenSignIn.Name, p => p.AddAuthenticationSchemes(TokenSignIn.Name).Require(Policies.Read));
        services.ConfigureHttpJsonOptions(o =>
        {
            o.SerializerOptions.AllowOutOfOrderMetadataProperties = true;
            o.SerializerOptions.UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow;
            o.SerializerOptions.Converters.Add(new StorableStrings());
            o.SerializerOptions.Converters.Add(
                new JsonStringEnumConverter(JsonNamingPolicy.KebabCaseLower, allowIntegerValues: false)
            );
        });
        services.Configure<RouteHandlerOptions>(o => o.ThrowOnBadRequest = true);
        services.AddOpenApi(options =>
        {
            options.AddSchemaTransformer(
                (schema, context, _) =>
                {
                    if (
                        context.JsonTypeInfo.Type is var type
                        && (Nullable.GetUnderlyingType(type) ?? type) == typeof(M2Key)
                    )
                    {
                        (schema.Type, schema.Enum) = (
                            JsonSchemaType.String,
                            [.. M2Key.All.Select(k => JsonValue.Create($"{k}"))]
                        );
                    }

                    return Task.CompletedTask;
                }
            );
            options.AddDocumentTransformer(
                (document, _, _) =>
                {
                    document.Info.Title = "Zenrik";
                    document.Info.Description =
                        "Everything a screen computes. Send a token made on your own page, /account, as \"Authorization: Bearer TOKEN\". "
                        + "Errors are problem details (RFC 9457).";
                    return Task.CompletedTask;
                }
            );
        });
    }

    public static bool IsApi(HttpContext context) => context.Request.Path.StartsWithSegments("/api");

    /// <summary>Most bytes of a request's body; the largest hardware list and map are far smaller.</summary>
    private const int MostBytes = 8 * 1024 * 1024;

    private static readonly string TooLarge = $"The body is larger than {MostBytes / 1024 / 1024} MB.";

    /// <summary>Refuses a body that is too large before any of it is read, or as soon as that much has come.</summary>
    public static void UseApiLimits(this IApplicationBuilder app) =>
        app.UseWhen(
            IsApi,
            api =>
                api.Use(
                    (context, next) =>
                    {
                        if (context.Request.ContentLength > MostBytes)
                        {
                            return Results
                                .Problem(TooLarge, statusCode: StatusCodes.Status413PayloadTooLarge)
                                .ExecuteAsync(context);
                        }

                        if (context.Features.Get<IHttpMaxRequestBodySizeFeature>() is { IsReadOnly: false } size)
                        {
                            size.MaxRequestBodySize = MostBytes;
                        }

                        return next(context);
                    }
                )
        );

    /// <summary>A body that is none, breaks off or grows too large is the sender's fault, and is told where it goes wrong.</summary>
    public static async Task SayWhatCannotBeRead(HttpContext context, RequestDelegate next)
    {
        const string NotTaken = "The request is not what this address takes";
        try
        {
            await next(context);
        }
        catch (BadHttpRequestException bad) when (!context.Response.HasStarted)
        {
            await Say(
                bad.StatusCode,
                bad.StatusCode == StatusCodes.Status413PayloadTooLarge ? TooLarge
                    : bad.InnerException is JsonException { Path: { } at } ? $"{NotTaken}, at {at}."
                    : $"{NotTaken}."
            );
        }
        // So the reader says that a thing of several kinds does not tell its own.
        catch (NotSupportedException e) when (e.Source == "System.Text.Json" && !context.Response.HasStarted)
        {
            await Say(StatusCodes.Status400BadRequest, $"{NotTaken}: something in it lacks its \"kind\".");
        }

        Task Say(int status, string sentence) => Results.Problem(sentence, statusCode: status).ExecuteAsync(context);
    }

    public static void MapApi(this WebApplication app)
    {
        var api = app.MapGroup(Root).RequireAuthorization(TokenSignIn.Name).DisableAntiforgery();
        api.AddEndpointFilter<RouteGroupBuilder, WholeBodies>();
        api.MapTeardown();
        api.MapCounter();
        api.MapBench();
        api.MapFleet();
        api.MapOutlook();
        app.MapOpenApi().AllowAnonymous();
        app.MapGet("/triage.schema.json", () => Results.Text(TriageReader.Schema, "application/schema+json"))
            .AllowAnonymous()
            .ExcludeFromDescription();
        app.MapGet("/service-map.schema.json", () => Results.Text(ServiceMapReader.Schema, "application/schema+json"))
            .AllowAnonymous()
            .ExcludeFromDescription();
    }
}
