using Microsoft.AspNetCore.Mvc.ModelBinding.Metadata;

namespace Zenrik.Web.Hosting;

/// <summary>Elements of a list that are empty stay empty texts; as they are read otherwise they would be null.</summary>
internal sealed class WholeLists : IDisplayMetadataProvider
{
    public void CreateDisplayMetadata(DisplayMetadataProviderContext context)
    {
        if (context.Key is { MetadataKind: ModelMetadataKind.Type } key && key.ModelType == typeof(string))
        {
            context.DisplayMetadata.ConvertEmptyStringToNull = false;
        }
    }
}
