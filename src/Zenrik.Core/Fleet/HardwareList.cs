using System.Text;
using System.Text.Json;
using Zenrik.Core.Fit;
using Zenrik.Core.Parts;

namespace Zenrik.Core.Fleet;

/// <summary>One part a machine says is inside it.</summary>
/// <param name="Number">What it calls its kind: the part number on memory and drives, the model on others.</param>
/// <param name="Gb">Memory: GB of 2³⁰ bytes; drives: GB of 10⁹ bytes.</param>
public sealed record ReportedPart(ItemKind Kind, string? Number, string? Serial, int? Gb);

/// <summary>What a machine says of itself.</summary>
/// <param name="Product">Its model as its firmware names it.</param>
/// <param name="Serial">Its serial as its firmware has it.</param>
public sealed record HardwareList(string? Product, string? Serial, IReadOnlyList<ReportedPart> Parts)
{
    /// <summary>Largest text read, bytes of UTF-8; a workstation's own list has about 60 000.</summary>
    public const int MaxBytes = 1024 * 1024;

    private const int MaxDepth = 40;
    private const int MaxParts = 200;

    /// <summary>Reads what `lshw -json` prints, as an object or as a list of one, as its versions differ.</summary>
    public static Outcome<HardwareList> Read(string? json)
    {
        if (string.IsNullOrWhiteSpace(json))
        {
            return Refuse("There is no text. Send what lshw -json prints, run as root.");
        }

        if (Encoding.UTF8.GetByteCount(json) > MaxBytes)
        {
            return Refuse($"The text is larger than {MaxBytes / 1024} kB; no machine's hardware list is.");
        }

        try
        {
            using var document = JsonDocument.Parse(json, new JsonDocumentOptions { MaxDepth = MaxDepth });
            var root =
                document.RootElement is { ValueKind: JsonValueKind.Array } list && list.GetArrayLength() == 1
                    ? list[0]
                    : document.RootElement;
            if (Text(root, "class") != "system")
            {
                return Refuse(
                    "That is JSON, but no hardware list: its outermost entry is not of the class \"system\"."
                );
            }

            var parts = new List<ReportedPart>();
            Collect(root, parts);
            return new HardwareList(Text(root, "product"), Text(root, "serial"), parts);
        }
        catch (JsonException)
        {
            return Refuse(
                "The text is not whole, or is no JSON. Nothing was kept; send all of what lshw -json prints."
            );
        }
    }

    private static void Collect(JsonElement node, List<ReportedPart> parts)
    {
        if (node.ValueKind != JsonValueKind.Object || parts.Count >= MaxParts)
        {
            return;
        }

        if (PartOf(node) is { } part)
        {
            parts.Add(part);
        }

        if (node.TryGetProperty("children", out var children) && children.ValueKind == JsonValueKind.Array)
        {
            foreach (var child in children.EnumerateArray())
            {
                Collect(child, parts);
            }
        }
    }

    private static ReportedPart? PartOf(JsonElement node)
    {
        var (id, kind) = (Text(node, "id") ?? "", Text(node, "class"));
        return kind switch
        {
            "bus" when id == "core" => Part(ItemKind.Board, null),
            // A bank without a size is an empty socket.
            "memory" when id.StartsWith("bank", StringComparison.Ordinal) && Size(node) is > 0 and var bytes => Part(
                ItemKind.Memory,
                (int)(bytes / (1L << 30))
            ),
            // What hangs on a plug outside is not inside.
            "disk" when !Outside(node) && Text(node, "product") is not null => Part(
                ItemKind.Drive,
                (int?)(Size(node) / 1_000_000_000)
            ),
            // A drive on the fast bus is its own controller; its size stands one level below.
            "storage" when !Outside(node) && Text(node, "serial") is not null && SizeBelow(node) is { } inside => Part(
                ItemKind.Drive,
                (int)(inside / 1_000_000_000)
            ),
            "network" when id.StartsWith("wireless", StringComparison.Ordinal) || Can(node, "wireless") =>
            // What lshw calls a radio's serial is its address on the air, not what is printed on the card.
            Part(ItemKind.Radio, null) with
            {
                Serial = null,
            },
            "power" when id.StartsWith("battery", StringComparison.Ordinal) => Part(ItemKind.Battery, null),
            _ => null,
        };

        ReportedPart Part(ItemKind what, int? gb) => new(what, Text(node, "product"), Text(node, "serial"), gb);
    }

    private static bool Outside(JsonElement node) =>
        Can(node, "removable") || Text(node, "businfo")?.StartsWith("usb@", StringComparison.Ordinal) == true;

    private static bool Can(JsonElement node, string capability) =>
        node.TryGetProperty("capabilities", out var all)
        && all.ValueKind == JsonValueKind.Object
        && all.TryGetProperty(capability, out _);

    private static long? Size(JsonElement node) =>
        node.TryGetProperty("size", out var size)
        && size.ValueKind == JsonValueKind.Number
        && size.TryGetInt64(out var bytes)
        && bytes is >= 0 and < 1L << 50
            ? bytes
            : null;

    private static long? SizeBelow(JsonElement node) =>
        node.TryGetProperty("children", out var children) && children.ValueKind == JsonValueKind.Array
            ? children
                .EnumerateArray()
                .Where(c => c.ValueKind == JsonValueKind.Object && Text(c, "class") == "disk")
                .Select(Size)
                .FirstOrDefault(s => s > 0)
            : null;

    /// <summary>A field as a label would carry it; null when it is missing, empty, or one of the usual stand-ins for nothing.</summary>
    private static string? Text(JsonElement node, string name) =>
        node.ValueKind == JsonValueKind.Object
        && node.TryGetProperty(name, out var field)
        && field.ValueKind == JsonValueKind.String
        && PartNumber.Read(field.GetString()).Try(out var read, out _)
        && !Nothing.Contains(read.Canonical)
            ? read.Text
            : null;

    /// <summary>What firmware writes where it has nothing to say. Common practice, no published source.</summary>
    private static readonly HashSet<string> Nothing =
    [
        "TOBEFILLEDBYOEM",
        "DEFAULTSTRING",
        "NOTSPECIFIED",
        "SYSTEMSERIALNUMBER",
        "SYSTEMPRODUCTNAME",
        "EMPTY",
        "NONE",
        "UNKNOWN",
        "0",
        "00000000",
    ];

    private static Refusal Refuse(string message) => new(RefusalReason.Invalid, message);
}
