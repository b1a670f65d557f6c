using System.Text.Json;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Http.HttpResults;
using Zenrik.Core;
using Zenrik.Web.Hosting;

namespace Zenrik.Web.Api;

/// <summary>What every endpoint answers with.</summary>
internal static class Answers
{
    /// <summary>Most entries of a list in a request.</summary>
    public const int Most = 200;

    /// <summary>A refusal as problem details (RFC 9457).</summary>
    public static ProblemHttpResult Problem(Refusal refusal) =>
        TypedResults.Problem(refusal.Message, statusCode: Statuses.Of(refusal));

    /// <summary>What was done, in a sentence, or why not.</summary>
    public static async Task<Results<Ok<SaidAnswer>, ProblemHttpResult>> Said(Task<Outcome<string>> doing) =>
        (await doing).Try(out var said, out var refusal) ? TypedResults.Ok(new SaidAnswer(said)) : Problem(refusal);

    /// <summary>"fits-with-conditions".</summary>
    public static string Word<T>(T value)
        where T : struct, Enum => JsonNamingPolicy.KebabCaseLower.ConvertName(value.ToString());

    /// <summary>Shows a request in the API's description.</summary>
    public static RouteHandlerBuilder WithExample(this RouteHandlerBuilder endpoint, string json) =>
        endpoint.AddOpenApiOperationTransformer(
            (operation, _, _) =>
            {
                foreach (var content in operation.RequestBody?.Content?.Values ?? [])
                {
                    content.Example = JsonNode.Parse(json);
                }

                return Task.CompletedTask;
            }
        );
}

/// <summary>What a change did, in a sentence.</summary>
public sealed record SaidAnswer(string Said);
