using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zenrik.Core;
using Zenrik.Core.Importing;

namespace Zenrik.Web.Hosting;

/// <summary>
/// Refuses a form of which a field cannot be read as what it is: a day without a month, a number with a letter, a day of the
/// year 12026. Its page would be told that nothing stood there. What was typed stands in the form again.
/// </summary>
internal sealed class ReadableForms : IAsyncPageFilter
{
    private const int LongestShown = 40;

    public Task OnPageHandlerSelectionAsync(PageHandlerSelectedContext context) => Task.CompletedTask;

    public async Task OnPageHandlerExecutionAsync(
        PageHandlerExecutingContext context,
        PageHandlerExecutionDelegate next
    )
    {
        var request = context.HttpContext.Request;
        if (!HttpMethods.IsPost(request.Method) || Unreadable(context) is not { } sentence)
        {
            await next();
        }
        else if (request.IsFragment())
        {
            context.HttpContext.Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
            await context.HttpContext.Response.Notice(sentence, context.HttpContext.RequestAborted);
            context.Result = new EmptyResult();
        }
        else
        {
            ((PageModel)context.HandlerInstance).TempData["Notice"] = sentence;
            var query = QueryString.Create(request.Query.Where(q => q.Key != "handler"));
            context.Result = new LocalRedirectResult($"{request.PathBase}{request.Path}{query}");
        }
    }

    private static string? Unreadable(PageHandlerExecutingContext context)
    {
        // A field that is missing or empty is for its page to judge.
        var typed = context
            .ModelState.Values.FirstOrDefault(f => f.Errors.Count > 0 && !string.IsNullOrWhiteSpace(f.AttemptedValue))
            ?.AttemptedValue!.Trim();
        return typed is not null
                ? $"“{(typed.Length > LongestShown ? $"{typed[..LongestShown]}…" : typed)}” could not be read. Nothing was changed; put it right and send it once more."
            : context
                .HandlerArguments.Values.OfType<DateOnly>()
                .Where(d => !Days.InReach(d))
                .Select(d => (DateOnly?)d)
                .FirstOrDefault()
                is { } day
                ? $"The year {day.Year} is out of reach. Nothing was changed; put the day right and send it once more."
            : null;
    }
}
