using System.Text;
using SkiaSharp;
using Zenrik.Core;
using Zenrik.Workshop.Photographs;
using Zenrik.Workshop.Repairs;

namespace Zenrik.Workshop.Tests.Repairs;

public sealed class PhotoTests(TemplateDatabase databases)
{
    [Fact]
    public void A_photograph_is_drawn_anew_smaller_upright_and_without_anything_else_in_it()
    {
        var jpeg = WithNotes(Picture(3000, 2000), "GPS 60.1 N 1.2 W");
        Encoding.ASCII.GetString(jpeg).ShouldContain("GPS");
        var kept = PhotoFile.Redraw(jpeg).Value;
        Encoding.ASCII.GetString(kept).ShouldNotContain("GPS");
        using var read = SKBitmap.Decode(kept);
        (read.Width, read.Height).ShouldBe((1600, 1066));
        read.GetPixel(10, 10).Red.ShouldBeGreaterThan((byte)200);
    }

    [Fact]
    public void A_picture_far_larger_than_its_file_is_not_decoded_whole_and_a_broken_one_not_kept()
    {
        var bomb = Picture(7745, 7745, SKEncodedImageFormat.Png);
        bomb.Length.ShouldBeLessThan(PhotoFile.MaxBytes);
        PhotoFile.Redraw(bomb).Refusal!.Message.ShouldContain("7745 by 7745");
        PhotoFile.Redraw(Picture(12000, 12000)).Refusal!.Message.ShouldContain("12000 by 12000");
        using (var wide = SKBitmap.Decode(PhotoFile.Redraw(Picture(9000, 6000)).Value))
        {
            (wide.Width, wide.Height).ShouldBe((1600, 1066));
        }

        foreach (var kind in new[] { SKEncodedImageFormat.Jpeg, SKEncodedImageFormat.Png, SKEncodedImageFormat.Webp })
        {
            var file = Picture(900, 700, kind);
            PhotoFile.Redraw(file).Refusal.ShouldBeNull();
            PhotoFile.Redraw(file[..(file.Length * 2 / 3)]).Refusal!.Message.ShouldContain("breaks off");
        }
    }

    [Fact]
    public async Task What_is_no_photograph_is_refused_in_a_sentence_and_nothing_is_kept()
    {
        await using var book = await databases.NewBook();
        var aled = await book.Person("aled");
        var repair = await book.Opened(aled, "battery", "battery worn");
        foreach (
            var (file, words) in new[]
            {
                (Array.Empty<byte>(), "empty"),
                (Encoding.UTF8.GetBytes("#!/bin/sh\nrm -rf /\n"), "no picture"),
                (Encoding.UTF8.GetBytes("<svg xmlns='http://www.w3.org/2000/svg'><script/></svg>"), "no picture"),
                (Picture(40, 40)[..60], "no picture"),
                (new byte[PhotoFile.MaxBytes + 1], "larger than 12 MB"),
            }
        )
        {
            var refusal = (await book.Do<AddPhoto, Outcome<Guid>>(p => p.Run(repair, file, aled))).Refusal!;
            refusal.Message.ShouldContain(words);
        }

        (await book.View(repair)).Repair.Photos.ShouldBeEmpty();
        var id = (await book.Do<AddPhoto, Outcome<Guid>>(p => p.Run(repair, Picture(40, 30), aled))).Value;
        (await book.Do<ReadPhoto, byte[]?>(p => p.Run(id)))!.Length.ShouldBeGreaterThan(100);
    }

    internal static byte[] Picture(int width, int height, SKEncodedImageFormat kind = SKEncodedImageFormat.Jpeg)
    {
        using var surface = SKSurface.Create(new SKImageInfo(width, height));
        surface.Canvas.Clear(SKColors.Red);
        using var image = surface.Snapshot();
        using var data = image.Encode(kind, 80);
        return data.ToArray();
    }

    /// <summary>A comment segment (FF FE, length, text) after the start marker of a JPEG.</summary>
    private static byte[] WithNotes(byte[] jpeg, string note)
    {
        var text = Encoding.ASCII.GetBytes(note);
        var length = text.Length + 2;
        return [.. jpeg[..2], 0xFF, 0xFE, (byte)(length >> 8), (byte)length, .. text, .. jpeg[2..]];
    }
}
