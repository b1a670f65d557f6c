using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;
using Microsoft.AspNetCore.Mvc.ModelBinding;
using Microsoft.AspNetCore.Mvc.ModelBinding.Metadata;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zenrik.Core.Importing;

namespace Zenrik.Web.Hosting;

/// <summary>
/// Refuses a form of which a field cannot be read as what it is: a day without a month, a number with a letter, a day of the
/// year 12026. Its page would be told that nothing stood there. What was typed stands in the form again. A page that is asked
/// for with such a field says so.
/// </summary>
internal sealed class ReadableForms : IAsyncPageFilter
{
    private const int LongestShown = 40;

    /// <summary>What is said of a field that cannot be read.</summary>
    public static void SayUnread(DefaultModelBindingMessageProvider says)
    {
        says.SetAttemptedValueIsInvalidAccessor((typed, _) => Unread(typed));
        says.SetNonPropertyAttemptedValueIsInvalidAccessor(Unread);
    }

    public static string Unread(string? typed) =>
        $"“{(typed?.Length > LongestShown ? $"{typed[..LongestShown]}…" : typed)}” could not be read.";

    public Task OnPageHandlerSelectionAsync(PageHandlerSelectedContext context) => Task.CompletedTask;

    public async Task OnPageHandlerExecutionAsync(
        PageHandlerExecutingContext context,
        PageHandlerExecutionDelegate next
    )
    {
        var (request, response) = (context.HttpContext.Request, context.HttpContext.Response);
        // A field that is missing or empty is for its page to judge; what the address says nobody has typed.
        var unread = context
            .ModelState.Where(f =>
                f.Value!.Errors.Count > 0
                && !string.IsNullOrWhiteSpace(f.Value.AttemptedValue)
                && !context.RouteData.Values.ContainsKey(f.Key)
            )
            .Select(f => f.Value)
            .FirstOrDefault();
        if (unread is null)
        {
            await next();
            return;
        }

        var posted = HttpMethods.IsPost(request.Method);
        var sentence =
            (unread.Errors[0].ErrorMessage is { Length: > 0 } said ? said : Unread(unread.AttemptedValue))
            + (posted ? " Nothing was changed; put it right and send it once more." : " It is left out here.");
        if (posted && request.IsFragment())
        {
            response.StatusCode = StatusCodes.Status422UnprocessableEntity;
            await response.Notice(sentence, context.HttpContext.RequestAborted);
            context.Result = new EmptyResult();
            return;
        }

        ((PageModel)context.HandlerInstance).TempData["Notice"] = sentence;
        if (!posted)
        {
            await next();
            return;
        }

        var query = QueryString.Create(request.Query.Where(q => q.Key != "handler"));
        context.Result = new LocalRedirectResult($"{request.PathBase}{request.Path}{query}");
    }
}

/// <summary>Reads days as browsers send them, 2026-09-08, and only such as anything here may be about.</summary>
internal sealed class ReadableDays : IModelBinder, IModelBinderProvider
{
    public IModelBinder? GetBinder(ModelBinderProviderContext context) =>
        context.Metadata.UnderlyingOrModelType == typeof(DateOnly) ? this : null;

    public Task BindModelAsync(ModelBindingContext bindingContext)
    {
        var sent = bindingContext.ValueProvider.GetValue(bindingContext.ModelName);
        if (sent == ValueProviderResult.None || string.IsNullOrWhiteSpace(sent.FirstValue))
        {
            return Task.CompletedTask;
        }

        bindingContext.ModelState.SetModelValue(bindingContext.ModelName, sent);
        var typed = sent.FirstValue.Trim();
        if (
            !DateOnly.TryParseExact(typed, "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var day)
        )
        {
            bindingContext.ModelState.TryAddModelError(bindingContext.ModelName, ReadableForms.Unread(typed));
        }
        else if (!Days.InReach(day))
        {
            bindingContext.ModelState.TryAddModelError(
                bindingContext.ModelName,
                $"The year {day.Year} is out of reach."
            );
        }
        else
        {
            bindingContext.Result = ModelBindingResult.Success(day);
        }

        return Task.CompletedTask;
    }
}
