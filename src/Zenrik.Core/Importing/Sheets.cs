using System.Text.RegularExpressions;
using Zenrik.Core.Fit;

namespace Zenrik.Core.Importing;

/// <summary>The sheets that can be taken in, in the order an organisation needs them.</summary>
public static class Sheets
{
    private static readonly SheetColumn Maker = new(
        "maker",
        "Maker",
        "as printed on the machine",
        AlsoCalled: ["make", "manufacturer", "brand", "vendor"]
    );

    private static readonly SheetColumn Class = new(
        "class",
        "Class",
        "laptop or Chromebook",
        AlsoCalled: ["type", "kind", "device type", "category"]
    );

    private static readonly SheetColumn Tag = new(
        "tag",
        "Tag",
        "the label stuck on the unit",
        Required: true,
        AlsoCalled:
        [
            "asset",
            "asset tag",
            "asset no",
            "asset number",
            "asset id",
            "inventory",
            "inventory number",
            "unit",
        ]
    );

    private static readonly SheetColumn Number = new(
        "number",
        "Part number",
        "as printed",
        Required: true,
        AlsoCalled: ["part no", "p/n", "pn", "part", "part code", "article", "article number"]
    );

    private static readonly SheetColumn NumberName = new(
        "name",
        "What it is",
        "battery 54 Wh",
        AlsoCalled: ["description", "part name", "title"]
    );

    private static readonly SheetColumn ItemKind = new(
        "kind",
        "Kind",
        "memory, drive, battery …",
        AlsoCalled: ["part kind", "part type", "category", "type"]
    );

    public static Sheet Models { get; } =
        new(
            "models",
            "Models",
            "a model the organisation owns",
            [
                Maker with
                {
                    Required = true,
                },
                new("name", "Model", "as printed on the machine", Required: true, AlsoCalled: ["model name"]),
                Class with
                {
                    Required = true,
                    Looks = c => ReadClass(c).Refusal is null,
                },
                new("price", "Price of a new one", "in the workshop's currency", AlsoCalled: ["cost", "new price"]),
                new("life", "Months in use", "6 to 240", AlsoCalled: ["life months", "lifetime"]),
                new("warranty", "Months of warranty", "1 to 120", AlsoCalled: ["warranty months", "guarantee months"]),
                new(
                    "supportEnds",
                    "Updates end",
                    "a day",
                    AlsoCalled: ["support ends", "end of support", "end of updates", "auto update expiry"]
                )
                {
                    IsDay = true,
                },
            ]
        );

    public static Sheet Units { get; } =
        new(
            "units",
            "Units",
            "one machine",
            [
                Tag,
                new(
                    "serial",
                    "Serial",
                    "the maker's",
                    Required: true,
                    AlsoCalled: ["serial number", "serial no", "s/n", "sn", "service tag", "serialnumber"]
                ),
                new(
                    "model",
                    "Model",
                    "name or code",
                    Required: true,
                    AlsoCalled: ["model name", "product", "product name", "device", "device model"]
                ),
                Maker,
                Class,
                new(
                    "site",
                    "Site",
                    "where it belongs",
                    AlsoCalled: ["location", "school", "office", "building", "place", "branch"]
                ),
                new(
                    "user",
                    "User",
                    "who uses it",
                    AlsoCalled: ["used by", "owner", "assigned to", "assigned user", "holder", "person"]
                ),
                new(
                    "bought",
                    "Bought on",
                    "a day",
                    AlsoCalled:
                    [
                        "bought",
                        "purchased",
                        "purchase date",
                        "date of purchase",
                        "purchased on",
                        "delivered",
                        "acquired",
                    ]
                )
                {
                    IsDay = true,
                },
                new(
                    "warranty",
                    "Warranty until",
                    "its last day",
                    AlsoCalled:
                    [
                        "warranty",
                        "warranty end",
                        "warranty ends",
                        "warranty expiry",
                        "warranty expires",
                        "guarantee until",
                    ]
                )
                {
                    IsDay = true,
                },
                new("loan", "Loan unit", "yes or no", AlsoCalled: ["loaner", "loan", "loan pool", "pool"]),
            ]
        );

    public static Sheet Numbers { get; } =
        new(
            "numbers",
            "Part numbers",
            "a number and what is known of it",
            [
                Number,
                NumberName with
                {
                    Required = true,
                },
                ItemKind with
                {
                    Required = true,
                    Looks = c => ReadKind(c).Refusal is null,
                },
                new("model", "Fits the model", "name or code", AlsoCalled: ["fits", "for model"]),
                new("slot", "In the slot", "as its passport calls it", AlsoCalled: ["slot", "position"]),
                .. Enum.GetValues<ItemKind>()
                    .SelectMany(SpecificationForm.Of)
                    .DistinctBy(f => f.Name)
                    .Where(f => f.Name is not ("number" or "name" or "kind" or "model" or "slot"))
                    .Select(f => new SheetColumn(f.Name, f.Label, "as on the number's page")),
            ]
        );

    public static Sheet Stock { get; } =
        new(
            "stock",
            "Stock by bin",
            "what lies in a bin",
            [
                new(
                    "bin",
                    "Bin",
                    "its code; a new one is made",
                    Required: true,
                    AlsoCalled: ["shelf", "location", "bin code", "place", "storage location"]
                ),
                Number,
                new(
                    "quantity",
                    "How many",
                    "1 where nothing is said",
                    AlsoCalled: ["qty", "count", "pieces", "on hand", "stock", "amount"]
                ),
                new("serial", "Serial", "of a single piece", AlsoCalled: ["serial number", "serial no", "s/n"]),
                new("lot", "Maker's lot", "where the label has one", AlsoCalled: ["batch", "lot number"]),
                new(
                    "cost",
                    "Cost of one",
                    "in the workshop's currency",
                    AlsoCalled: ["price", "unit cost", "unit price", "value"]
                ),
                NumberName,
                ItemKind,
            ]
        );

    public static Sheet People { get; } =
        new(
            "people",
            "People",
            "somebody who may sign in",
            [
                new(
                    "signIn",
                    "Signs in as",
                    "a short name in small letters",
                    Required: true,
                    AlsoCalled: ["sign in", "login", "user", "user name", "username", "account"]
                ),
                new(
                    "name",
                    "Name",
                    "as shown beside what they did",
                    Required: true,
                    AlsoCalled: ["full name", "person", "display name"]
                ),
                new(
                    "role",
                    "Role",
                    "technician, storekeeper, lead or reader",
                    Required: true,
                    AlsoCalled: ["job", "rights", "group"]
                ),
            ]
        );

    public static Sheet Prices { get; } =
        new(
            "prices",
            "Price list",
            "what a supplier asks for a number",
            [
                new(
                    "supplier",
                    "Supplier",
                    "one that is kept here by hand",
                    Required: true,
                    AlsoCalled: ["vendor", "seller"]
                ),
                Number,
                new(
                    "price",
                    "Price of one",
                    "as the supplier writes it",
                    Required: true,
                    AlsoCalled: ["unit price", "net price", "cost"]
                ),
                new(
                    "from",
                    "From how many",
                    "1 where nothing is said",
                    AlsoCalled: ["from quantity", "min quantity", "minimum", "moq", "break"]
                ),
                new(
                    "days",
                    "Handling, days",
                    "working days until it is packed",
                    AlsoCalled: ["lead time", "lead days", "delivery days", "handling"]
                ),
                new("grade", "Grade", "brand, compatible, unbranded, used", AlsoCalled: ["quality", "condition"]),
                new("weight", "Weight, kg", "of one, packed", AlsoCalled: ["kg", "weight kg"]),
                new("stock", "In stock", "how many", AlsoCalled: ["available", "availability", "quantity"]),
            ]
        );

    public static Sheet Teardown { get; } =
        new(
            "teardown",
            "What comes off, in order",
            "a screw group, joint, tie or part of a model, in the order they come off",
            [
                new(
                    "model",
                    "Model",
                    "name or code; its rows stand together",
                    Required: true,
                    AlsoCalled: ["model name", "device", "device model", "product"]
                ),
                Maker,
                new(
                    "thing",
                    "Thing",
                    "what it is called at the bench",
                    Required: true,
                    AlsoCalled: ["name", "what", "component", "step", "part", "item"]
                ),
                new(
                    "kind",
                    "Kind",
                    "screws, part, exchanged part, battery plug, ribbon, plug, tape …",
                    Required: true,
                    AlsoCalled: ["type", "category"]
                ),
                new("count", "How many", "of screws", AlsoCalled: ["count", "qty", "quantity", "number of screws"]),
                new("drive", "Drive", "PH0, T5 …", AlsoCalled: ["head", "bit", "driver", "tool"]),
                new("length", "Length", "under the head, mm", AlsoCalled: ["mm", "size", "screw", "length mm"]),
                new(
                    "of",
                    "Belongs to",
                    "the part it holds or joins; blank: the next part",
                    AlsoCalled: ["holds", "belongs to", "of part", "joins", "on"]
                ),
            ]
        )
        {
            Together = "model",
        };

    /// <summary>
    /// What is inside units: a line a slot, or a line a unit with a column for each slot.
    /// </summary>
    /// <param name="slots">The slots of the models that are known, each a column of its own.</param>
    public static Sheet Inside(IEnumerable<string> slots) =>
        new(
            "inside",
            "What is inside",
            "what sits in a unit's slots",
            [
                Tag,
                new("slot", "Slot", "as its passport calls it", AlsoCalled: ["position", "component", "part"]),
                new("number", "Part number", "in that slot", AlsoCalled: ["part no", "p/n", "pn"]),
                new("serial", "Serial", "of that part", AlsoCalled: ["serial number", "part serial", "s/n"]),
                .. slots
                    .Where(s => s is not ("tag" or "slot" or "number" or "serial"))
                    .Distinct()
                    .Order(StringComparer.Ordinal)
                    .Select(s => new SheetColumn($"{SlotColumn}{s}", $"In {s}", "a part number", AlsoCalled: [s])),
            ]
        );

    /// <summary>What the ids of columns for one slot begin with.</summary>
    public const string SlotColumn = "in:";

    /// <summary>All of them; what is inside without the columns of slots.</summary>
    public static IReadOnlyList<Sheet> All { get; } =
    [Models, Units, Inside([]), Teardown, Numbers, Stock, Prices, People];

    public static Sheet? Find(string? id) => All.FirstOrDefault(s => s.Id == id);

    private static readonly TimeSpan Patience = TimeSpan.FromMilliseconds(100);

    /// <summary>A class as people write it.</summary>
    public static Outcome<ServiceMaps.DeviceClass> ReadClass(string cell) =>
        ColumnMatch.Plain(cell) switch
        {
            "laptop" or "notebook" or "businesslaptop" or "portable" or "ultrabook" => ServiceMaps.DeviceClass.Laptop,
            "chromebook" or "schoolchromebook" => ServiceMaps.DeviceClass.Chromebook,
            _ => new Refusal(RefusalReason.Invalid, $"“{cell}” is no class: it is a laptop or a Chromebook."),
        };

    /// <summary>A kind of part as people write it.</summary>
    public static Outcome<ItemKind> ReadKind(string cell)
    {
        var plain = ColumnMatch.Plain(cell);
        foreach (var kind in Enum.GetValues<ItemKind>())
        {
            if (plain == ColumnMatch.Plain($"{kind}"))
            {
                return kind;
            }
        }

        return new Refusal(
            RefusalReason.Invalid,
            $"“{cell}” is no kind of part. Kinds: {string.Join(", ", Enum.GetNames<ItemKind>().Select(k => k.ToLowerInvariant()))}."
        );
    }

    /// <summary>Yes or no as people write it.</summary>
    public static Outcome<bool> ReadYes(string cell) =>
        ColumnMatch.Plain(cell) switch
        {
            "yes" or "y" or "true" or "1" or "x" => true,
            "no" or "n" or "false" or "0" => false,
            _ => new Refusal(RefusalReason.Invalid, $"“{cell}” is neither yes nor no."),
        };

    /// <summary>
    /// An amount of money as people write it: 1234.5, 1,234.50, 1.234,50, £12. A single comma with three digits after it
    /// stands between thousands.
    /// </summary>
    public static Outcome<decimal> ReadAmount(string cell)
    {
        // A currency stands before or after it, as a sign or three letters; anything else means something that is not read.
        var bare = Match(
            cell,
            @"^\s*(?:\p{Sc}|[A-Za-z]{3})?\s*(?<amount>[0-9][0-9.,\s']*?)\s*(?:\p{Sc}|[A-Za-z]{3})?\s*$"
        );
        var text = string.Concat(bare.Groups["amount"].Value.Where(c => !char.IsWhiteSpace(c) && c != '\''));
        var plain =
            Match(text, @"^\d{1,3}(,\d{3})+(\.\d+)?$").Success ? text.Replace(",", "", StringComparison.Ordinal)
            : Match(text, @"^\d{1,3}(\.\d{3})+,\d+$").Success || Match(text, @"^\d{1,3}(\.\d{3}){2,}$").Success
                ? text.Replace(".", "", StringComparison.Ordinal).Replace(',', '.')
            : Match(text, @"^\d+([.,]\d+)?$").Success ? text.Replace(',', '.')
            : null;
        return
            plain is not null
            && decimal.TryParse(
                plain,
                System.Globalization.NumberStyles.AllowDecimalPoint,
                System.Globalization.CultureInfo.InvariantCulture,
                out var amount
            )
            && amount <= 1_000_000
            ? amount
            : new Refusal(RefusalReason.Invalid, $"“{cell}” is no amount from 0 to 1,000,000.");

        static Match Match(string text, string pattern) =>
            Regex.Match(text, pattern, RegexOptions.ExplicitCapture | RegexOptions.CultureInvariant, Patience);
    }

    /// <summary>A whole number within bounds.</summary>
    public static Outcome<int> ReadWhole(string cell, int least, int most, string what) =>
        decimal.TryParse(
            cell,
            System.Globalization.NumberStyles.AllowDecimalPoint,
            System.Globalization.CultureInfo.InvariantCulture,
            out var number
        )
        && decimal.Truncate(number) == number
        && number >= least
        && number <= most
            ? (int)number
            : new Refusal(RefusalReason.Invalid, $"“{cell}” is not {what}, a whole number from {least} to {most}.");
}
