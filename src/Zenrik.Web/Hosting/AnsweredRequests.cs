using Microsoft.AspNetCore.Diagnostics;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;

namespace Zenrik.Web.Hosting;

/// <summary>
/// Where no handler of a page answers to a form, Razor Pages shows the page without having asked its model. A form that no page
/// has, as of a version before, is answered as that.
/// </summary>
internal sealed class AnsweredRequests : IPageFilter
{
    public void OnPageHandlerSelected(PageHandlerSelectedContext context) { }

    public void OnPageHandlerExecuting(PageHandlerExecutingContext context)
    {
        var http = context.HttpContext;
        // The page that says what went wrong is given the request that did.
        var saysWhatWentWrong =
            http.Features.Get<IStatusCodeReExecuteFeature>() is not null
            || http.Features.Get<IExceptionHandlerFeature>() is not null;
        if (context.HandlerMethod is null && HttpMethods.IsPost(http.Request.Method) && !saysWhatWentWrong)
        {
            context.Result = new StatusCodeResult(StatusCodes.Status405MethodNotAllowed);
        }
    }

    public void OnPageHandlerExecuted(PageHandlerExecutedContext context) { }
}
