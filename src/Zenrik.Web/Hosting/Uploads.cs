using Zenrik.Workshop.Repairs;

namespace Zenrik.Web.Hosting;

/// <summary>Files that people send.</summary>
internal static class Uploads
{
    /// <summary>Above what a photograph may have, so that one too large gets a sentence and not a broken connection.</summary>
    public const int MostBytes = 80 * 1024 * 1024;

    /// <summary>The file's content; of a file too large only enough to tell.</summary>
    public static async Task<byte[]> Read(IFormFile file, CancellationToken stop)
    {
        await using var stream = file.OpenReadStream();
        var buffer = new byte[(int)Math.Min(file.Length, AddPhoto.MaxBytes + 1)];
        await stream.ReadExactlyAsync(buffer, stop);
        return buffer;
    }
}
