using System.Text.Json;
using System.Text.Json.Serialization;
using Microsoft.AspNetCore.Diagnostics;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;

namespace Zenrik.Web.Hosting;

/// <summary>
/// Refuses at the edge, once, what PostgreSQL cannot hold in a text: U+0000, and halves of a surrogate pair. Addresses are
/// looked at before anything else, forms once it is known who sent them, JSON while it is read.
/// </summary>
internal static class StorableText
{
    public const string Sentence =
        "What was sent contains a character that no text has (U+0000, or half of one). Nothing was changed.";

    public static bool Has(string? text)
    {
        if (text is null)
        {
            return true;
        }

        for (var i = 0; i < text.Length; i++)
        {
            if (text[i] == '\0')
            {
                return false;
            }

            if (char.IsSurrogate(text[i]))
            {
                if (i + 1 == text.Length || !char.IsSurrogatePair(text[i], text[i + 1]))
                {
                    return false;
                }

                i++;
            }
        }

        return true;
    }

    public static void UseStorableAddresses(this IApplicationBuilder app) =>
        app.Use(
            (context, next) =>
            {
                // What is written as a blank is read as nothing: no page answers to it.
                if (
                    context.Request.Path.Value?.Split('/').Any(p => p.Length > 0 && string.IsNullOrWhiteSpace(p))
                    == true
                )
                {
                    context.Response.StatusCode = StatusCodes.Status404NotFound;
                    return Task.CompletedTask;
                }

                if (Has(context.Request.Path.Value) && context.Request.Query.All(q => Has(q.Key) && q.Value.All(Has)))
                {
                    return next(context);
                }

                if (ApiHosting.IsApi(context))
                {
                    return Results
                        .Problem(Sentence, statusCode: StatusCodes.Status422UnprocessableEntity)
                        .ExecuteAsync(context);
                }

                context.Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
                return Task.CompletedTask;
            }
        );
}

/// <summary>Looks at every field of a form, files' names included, before a page is given any of it.</summary>
internal sealed class StorableForms : IAsyncResourceFilter
{
    public async Task OnResourceExecutionAsync(ResourceExecutingContext context, ResourceExecutionDelegate next)
    {
        var request = context.HttpContext.Request;
        // The page that says so is given the same form again, and uses none of it.
        if (request.HasFormContentType && context.HttpContext.Features.Get<IStatusCodeReExecuteFeature>() is null)
        {
            var form = await request.ReadFormAsync(context.HttpContext.RequestAborted);
            if (
                !form.All(f => StorableText.Has(f.Key) && f.Value.All(StorableText.Has))
                || !form.Files.All(f => StorableText.Has(f.FileName))
            )
            {
                context.Result = new StatusCodeResult(StatusCodes.Status422UnprocessableEntity);
                return;
            }
        }

        await next();
    }
}

/// <summary>Reads strings and keys of JSON bodies.</summary>
internal sealed class StorableStrings : JsonConverter<string>
{
    public override string? Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
        reader.TokenType == JsonTokenType.String ? Text(ref reader)
        : reader.TokenType == JsonTokenType.Null ? null
        : throw new JsonException();

    public override string ReadAsPropertyName(
        ref Utf8JsonReader reader,
        Type typeToConvert,
        JsonSerializerOptions options
    ) => Text(ref reader);

    public override void Write(Utf8JsonWriter writer, string value, JsonSerializerOptions options) =>
        writer.WriteStringValue(value);

    public override void WriteAsPropertyName(Utf8JsonWriter writer, string value, JsonSerializerOptions options) =>
        writer.WritePropertyName(value);

    private static string Text(ref Utf8JsonReader reader)
    {
        try
        {
            return reader.GetString() is { } text && StorableText.Has(text)
                ? text
                : throw new JsonException(StorableText.Sentence);
        }
        catch (InvalidOperationException e)
        {
            throw new JsonException(StorableText.Sentence, e);
        }
    }
}
