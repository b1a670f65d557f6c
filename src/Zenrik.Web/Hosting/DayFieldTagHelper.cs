using Microsoft.AspNetCore.Razor.TagHelpers;
using Zenrik.Core.Importing;

namespace Zenrik.Web.Hosting;

/// <summary>
/// A field for a day, <c>input type="date"</c>: its days are written as browsers read them, and it has a last one, without
/// which a browser takes years of six figures.
/// </summary>
[HtmlTargetElement("input", Attributes = "[type=date]", TagStructure = TagStructure.WithoutEndTag)]
public sealed class DayFieldTagHelper : TagHelper
{
    /// <summary>What stands in it; null: nothing.</summary>
    public DateOnly? Day { get; set; }

    /// <summary>The first day that may be chosen; null: any in reach.</summary>
    public DateOnly? First { get; set; }

    /// <summary>The last one; null: any in reach.</summary>
    public DateOnly? Last { get; set; }

    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        ArgumentNullException.ThrowIfNull(output);
        if (Day is { } day)
        {
            output.Attributes.SetAttribute("value", Show.Iso(day));
        }

        if (First is { } first)
        {
            output.Attributes.SetAttribute("min", Show.Iso(first));
        }

        output.Attributes.SetAttribute("max", Show.Iso(Last ?? Days.Last));
    }
}
