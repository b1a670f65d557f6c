using SkiaSharp;
using Zenrik.Core;

namespace Zenrik.Workshop.Photographs;

/// <summary>
/// A picture as somebody sends it. It is decoded and drawn anew, so that nothing but the picture is kept: no place, no
/// camera, no hidden content.
/// </summary>
public static class PhotoFile
{
    /// <summary>Largest file taken, in bytes.</summary>
    public const int MaxBytes = 12 * 1024 * 1024;

    /// <summary>Most points of a picture that can be decoded smaller than it is (JPEG, WebP).</summary>
    private const int MaxPixels = 120_000_000;

    /// <summary>Most points decoded, four bytes each: what cannot be decoded smaller (PNG) has no more.</summary>
    private const int MaxDecoded = 25_000_000;

    private const int LongSide = 1600;
    private const int Quality = 82;

    /// <summary>Pictures take memory by the hundred megabytes while they are drawn; more than these wait.</summary>
    private static readonly SemaphoreSlim AtOnce = new(2);

    /// <summary>Why a file cannot be kept; null when it can.</summary>
    public static async Task<Refusal?> Check(byte[] file, CancellationToken stop = default) =>
        (await Redrawn(file, stop)).Refusal;

    /// <summary>The picture as a JPEG of at most 1600 points a side, upright, with nothing else in it.</summary>
    public static async Task<Outcome<byte[]>> Redrawn(byte[] file, CancellationToken stop = default)
    {
        await AtOnce.WaitAsync(stop);
        try
        {
            return Redraw(file);
        }
        finally
        {
            AtOnce.Release();
        }
    }

    internal static Outcome<byte[]> Redraw(byte[] file)
    {
        if (file.Length == 0)
        {
            return new Refusal(RefusalReason.Invalid, "The file is empty. Take the photograph again.");
        }

        if (file.Length > MaxBytes)
        {
            return new Refusal(
                RefusalReason.Invalid,
                $"The file is larger than {MaxBytes / 1024 / 1024} MB. Send the photograph in a smaller size."
            );
        }

        using var data = SKData.CreateCopy(file);
        using var codec = SKCodec.Create(data);
        if (codec is null)
        {
            return new Refusal(
                RefusalReason.Invalid,
                "That is no picture this program can read. Send a JPEG, PNG or WebP."
            );
        }

        var (width, height) = (codec.Info.Width, codec.Info.Height);
        if (width < 1 || height < 1 || (long)width * height > MaxPixels)
        {
            return new Refusal(
                RefusalReason.Invalid,
                $"The picture is {width} by {height} points; at most {MaxPixels / 1_000_000} million are read."
            );
        }

        // Decoders round the scale they are asked for: a quarter more, so that none comes out too small.
        var scaled = codec.GetScaledDimensions(Math.Min(1f, 1.25f * LongSide / Math.Max(width, height)));
        if ((long)scaled.Width * scaled.Height > MaxDecoded)
        {
            return new Refusal(
                RefusalReason.Invalid,
                $"The picture is {width} by {height} points; of its kind at most {MaxDecoded / 1_000_000} million are read. Send it as JPEG or smaller."
            );
        }

        using var whole = new SKBitmap();
        if (
            !whole.TryAllocPixels(new SKImageInfo(scaled.Width, scaled.Height))
            || codec.GetPixels(whole.Info, whole.GetPixels()) != SKCodecResult.Success
        )
        {
            return new Refusal(RefusalReason.Invalid, "The picture breaks off in the middle. Send it again.");
        }

        whole.SetImmutable();
        (width, height) = (scaled.Width, scaled.Height);
        var turned = codec.EncodedOrigin is SKEncodedOrigin.RightTop or SKEncodedOrigin.LeftBottom;
        var (across, down) = turned ? (height, width) : (width, height);
        var scale = Math.Min(1f, LongSide / (float)Math.Max(across, down));
        using var surface = SKSurface.Create(
            new SKImageInfo(Math.Max(1, (int)(across * scale)), Math.Max(1, (int)(down * scale)))
        );
        var canvas = surface.Canvas;
        canvas.Clear(SKColors.White);
        canvas.Scale(scale);
        switch (codec.EncodedOrigin)
        {
            case SKEncodedOrigin.BottomRight:
                canvas.Translate(width, height);
                canvas.RotateDegrees(180);
                break;
            case SKEncodedOrigin.RightTop:
                canvas.Translate(height, 0);
                canvas.RotateDegrees(90);
                break;
            case SKEncodedOrigin.LeftBottom:
                canvas.Translate(0, width);
                canvas.RotateDegrees(270);
                break;
        }

        using var image = SKImage.FromBitmap(whole);
        canvas.DrawImage(image, 0, 0, new SKSamplingOptions(SKFilterMode.Linear, SKMipmapMode.Linear));
        using var drawn = surface.Snapshot();
        using var encoded = drawn.Encode(SKEncodedImageFormat.Jpeg, Quality);
        return encoded.ToArray();
    }
}
