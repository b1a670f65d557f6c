using System.IO.Compression;
using System.Text;
using System.Text.Json;
using Zenrik.Core;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.Photographs;

namespace Zenrik.Workshop.MapMaking;

/// <summary>A photograph that goes with a map.</summary>
/// <param name="Jpeg">Without the camera's notes.</param>
/// <param name="Act">The act it was taken at, as "kind:target"; null: none in particular.</param>
/// <param name="At">When it was taken; two of one map never at the same moment.</param>
public sealed record SharedPhoto(byte[] Jpeg, string? Act, DateTimeOffset At);

/// <summary>
/// A map on its way to another workshop: its JSON, or a zip with <c>map.json</c>, the pictures, and <c>photographs.json</c>
/// that says of each picture at which act and when it was taken.
/// </summary>
public sealed record SharedMap(string Json, IReadOnlyList<SharedPhoto> Photos)
{
    /// <summary>Most photographs in one file.</summary>
    public const int MostPhotos = 60;

    private const string MapName = "map.json";
    private const string ListName = "photographs.json";
    private const int MostListed = 64 * 1024;

    private static readonly JsonSerializerOptions Options = new(JsonSerializerDefaults.Web);

    /// <summary>One line of <c>photographs.json</c>.</summary>
    private sealed record Line(string? File, string? Act, DateTimeOffset TakenAt);

    /// <summary>The zip.</summary>
    public byte[] ToZip()
    {
        using var bytes = new MemoryStream();
        using (var zip = new ZipArchive(bytes, ZipArchiveMode.Create, leaveOpen: true))
        {
            Add(MapName, Encoding.UTF8.GetBytes(Json));
            var lines = Photos.Select((p, i) => new Line($"photographs/{i + 1}.jpg", p.Act, p.At)).ToList();
            Add(ListName, JsonSerializer.SerializeToUtf8Bytes(lines, Options));
            foreach (var (line, photo) in lines.Zip(Photos))
            {
                Add(line.File!, photo.Jpeg);
            }

            void Add(string name, byte[] content)
            {
                using var entry = zip.CreateEntry(name, CompressionLevel.Fastest).Open();
                entry.Write(content);
            }
        }

        return bytes.ToArray();
    }

    /// <summary>
    /// Reads what somebody sent: JSON as it is, or a zip of which each picture is drawn anew. Whether the JSON is a map, its
    /// reader says.
    /// </summary>
    public static async Task<Outcome<SharedMap>> Read(byte[] file, CancellationToken stop = default)
    {
        // A zip begins with "PK" (APPNOTE 4.3.7), JSON never does.
        if (file is not [(byte)'P', (byte)'K', ..])
        {
            return new SharedMap(Encoding.UTF8.GetString(file), []);
        }

        try
        {
            await using var zip = new ZipArchive(new MemoryStream(file, writable: false), ZipArchiveMode.Read);
            return Content(zip, MapName, ServiceMapReader.MaxBytes) is not { } json
                    ? Invalid(
                        $"The zip holds no “{MapName}” of usable size. Send one that was made by “The map with its photographs”."
                    )
                : Content(zip, ListName, MostListed) is not { } list ? new SharedMap(Encoding.UTF8.GetString(json), [])
                : (await PhotosOf(zip, list, stop)).Try(out var photos, out var wrong)
                    ? new SharedMap(Encoding.UTF8.GetString(json), photos)
                : wrong;
        }
        catch (InvalidDataException)
        {
            return Invalid("The zip is broken. Send it again.");
        }
        catch (JsonException)
        {
            return Invalid($"“{ListName}” in the zip cannot be read: it lists each picture's file, act and takenAt.");
        }
    }

    private static async Task<Outcome<List<SharedPhoto>>> PhotosOf(ZipArchive zip, byte[] list, CancellationToken stop)
    {
        var lines = JsonSerializer.Deserialize<List<Line?>>(list, Options)?.OfType<Line>().ToList() ?? [];
        if (lines.Count > MostPhotos)
        {
            return Invalid($"The zip lists {lines.Count} photographs; a map takes at most {MostPhotos}.");
        }

        var photos = new List<SharedPhoto>();
        foreach (var line in lines)
        {
            if (Content(zip, line.File, PhotoFile.MaxBytes) is not { } picture)
            {
                return Invalid($"The zip lists “{line.File}”, and holds none of that name and usable size.");
            }

            if (!(await PhotoFile.Redrawn(picture, stop)).Try(out var jpeg, out var refusal))
            {
                return Invalid($"{line.File}: {refusal.Message}");
            }

            photos.Add(
                new SharedPhoto(
                    jpeg,
                    Act.TryParse(line.Act, out var act) ? act.ToString() : null,
                    line.TakenAt.ToUniversalTime()
                )
            );
        }

        return photos;
    }

    /// <summary>An entry's content; null where there is none, or it is larger than it may be, whatever its header says.</summary>
    private static byte[]? Content(ZipArchive zip, string? name, int most)
    {
        if (name is null || zip.GetEntry(name) is not { } entry)
        {
            return null;
        }

        using var from = entry.Open();
        var content = new byte[(int)Math.Min(entry.Length, (long)most + 1)];
        var read = from.ReadAtLeast(content, content.Length, throwOnEndOfStream: false);
        return read > most ? null : content[..read];
    }

    private static Refusal Invalid(string message) => new(RefusalReason.Invalid, message);
}
