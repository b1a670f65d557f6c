using Microsoft.EntityFrameworkCore;
using SkiaSharp;
using Zenrik.Core;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Parts;

namespace Zenrik.Workshop.Repairs;

/// <summary>
/// Keeps a photograph with a repair. What is sent is decoded and drawn anew, so that nothing but the picture is kept:
/// no place, no camera, no hidden content.
/// </summary>
public sealed class AddPhoto(WorkshopDb db, TimeProvider clock)
{
    /// <summary>Largest file taken, in bytes.</summary>
    public const int MaxBytes = 12 * 1024 * 1024;

    /// <summary>Most photographs of one repair.</summary>
    public const int MaxPerRepair = 40;

    /// <summary>Most points of a picture that can be decoded smaller than it is (JPEG, WebP).</summary>
    private const int MaxPixels = 120_000_000;

    /// <summary>Most points decoded, four bytes each: what cannot be decoded smaller (PNG) has no more.</summary>
    private const int MaxDecoded = 25_000_000;

    private const int LongSide = 1600;
    private const int Quality = 82;

    /// <summary>Pictures take memory by the hundred megabytes while they are drawn; more than these wait.</summary>
    private static readonly SemaphoreSlim AtOnce = new(2);

    /// <param name="repairNumber">The repair.</param>
    /// <param name="file">The file as sent.</param>
    /// <param name="act">The act it was taken at; null: of the repair as a whole.</param>
    /// <returns>The photograph's id.</returns>
    public async Task<Outcome<Guid>> Run(
        long repairNumber,
        byte[] file,
        Actor by,
        string? act = null,
        CancellationToken stop = default
    )
    {
        if (!(await Redrawn(file, stop)).Try(out var jpeg, out var unusable))
        {
            return unusable;
        }

        return await db.Write(by, Repair.CodeOf(repairNumber), clock.GetUtcNow(), Work, stop);

        async Task<Outcome<Guid>> Work()
        {
            var repair = await db.Repairs.SingleOrDefaultAsync(r => r.Number == repairNumber, stop);
            if (repair is null)
            {
                return new Refusal(RefusalReason.NotFound, $"There is no repair {Repair.CodeOf(repairNumber)}.");
            }

            if (await db.RepairPhotos.CountAsync(p => p.RepairId == repair.Id, stop) >= MaxPerRepair)
            {
                return new Refusal(RefusalReason.Conflict, $"{repair.Code} has {MaxPerRepair} photographs already.");
            }

            var photo = new RepairPhoto
            {
                Id = Guid.CreateVersion7(),
                RepairId = repair.Id,
                Jpeg = jpeg,
                Act = Core.Teardown.Act.TryParse(act, out var at) ? at.ToString() : null,
                At = clock.GetUtcNow(),
                ById = by.Id,
            };
            db.RepairPhotos.Add(photo);
            return photo.Id;
        }
    }

    /// <summary>Why a file cannot be kept; null when it can.</summary>
    public static async Task<Refusal?> Check(byte[] file, CancellationToken stop = default) =>
        (await Redrawn(file, stop)).Refusal;

    private static async Task<Outcome<byte[]>> Redrawn(byte[] file, CancellationToken stop)
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

    /// <summary>Which photographs were taken at which acts of a repair, oldest first.</summary>
    public async Task<IReadOnlyList<(Guid Id, string Act, DateTimeOffset At)>> AtActs(
        RepairId repair,
        CancellationToken stop = default
    ) =>
        [
            .. (
                await db
                    .RepairPhotos.Where(p => p.RepairId == repair && p.Act != null)
                    .OrderBy(p => p.At)
                    .Select(p => new
                    {
                        p.Id,
                        p.Act,
                        p.At,
                    })
                    .ToListAsync(stop)
            ).Select(p => (p.Id, p.Act!, p.At)),
        ];

    /// <summary>A photograph's picture; null when there is none of this id.</summary>
    public async Task<byte[]?> Read(Guid id, CancellationToken stop = default) =>
        await db.RepairPhotos.Where(p => p.Id == id).Select(p => p.Jpeg).SingleOrDefaultAsync(stop);

    /// <summary>The picture as a JPEG of at most 1600 pixels, upright, with nothing else in it.</summary>
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
