using Zenrik.Core.Fit;
using Zenrik.Core.Sourcing;
using Zenrik.Workshop.Parts;

namespace Zenrik.Demo.World;

/// <summary>The part numbers of the demo world, as data/demo/catalogue.json lists them.</summary>
/// <param name="Numbers">In the order of the file.</param>
public sealed record DemoCatalogue(IReadOnlyList<DemoNumber> Numbers)
{
    public static DemoCatalogue Read()
    {
        using var stream = typeof(DemoCatalogue).Assembly.GetManifestResourceStream("catalogue.json")!;
        using var reader = new StreamReader(stream);
        return StoredJson.Read<DemoCatalogue>(reader.ReadToEnd());
    }
}

/// <param name="Shelf">How many lie on the shelf; null where that is left to chance.</param>
/// <param name="AsBuilt">True when units of its models come with it.</param>
/// <param name="Price">What suppliers ask for, roughly.</param>
public sealed record DemoNumber(
    string Number,
    string Name,
    IReadOnlyList<DemoFit> Fits,
    decimal Price,
    decimal WeightKg,
    PartGrade Grade,
    bool AsBuilt,
    string? TypeCode,
    ItemSpecification? Specification,
    string? SupersededBy,
    int? Shelf,
    string? Bin
);

public sealed record DemoFit(string Model, string Slot);
