using Microsoft.AspNetCore.Mvc.ApplicationModels;
using Microsoft.AspNetCore.Mvc.ModelBinding;

namespace Zenrik.Web.Hosting;

/// <summary>
/// What a page is about stands in its address and nowhere else: a field of the same name in a form or a query does not
/// take its place.
/// </summary>
internal sealed class AddressedByRoute : IPageApplicationModelConvention
{
    public void Apply(PageApplicationModel model)
    {
        var template = model.ActionDescriptor.AttributeRouteInfo?.Template ?? "";
        foreach (var parameter in model.HandlerMethods.SelectMany(h => h.Parameters))
        {
            var name = parameter.ParameterName;
            if (
                template.Contains($"{{{name}}}", StringComparison.OrdinalIgnoreCase)
                || template.Contains($"{{{name}:", StringComparison.OrdinalIgnoreCase)
            )
            {
                parameter.BindingInfo ??= new BindingInfo();
                parameter.BindingInfo.BindingSource = BindingSource.Path;
            }
        }
    }
}
