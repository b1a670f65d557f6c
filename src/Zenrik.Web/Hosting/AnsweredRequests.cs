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
        if (context.HandlerMethod is null && HttpMethods.IsPost(context.HttpContext.Request.Method))
        {
            context.Result = new StatusCodeResult(StatusCodes.Status405MethodNotAllowed);
        }
    }

    public void OnPageHandlerExecuted(PageHandlerExecutedContext context) { }
}
