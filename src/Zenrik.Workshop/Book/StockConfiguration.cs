using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Zenrik.Core.Stock;

namespace Zenrik.Workshop.Book;

internal sealed class BinConfiguration : IEntityTypeConfiguration<Bin>
{
    public void Configure(EntityTypeBuilder<Bin> builder)
    {
        builder.Property(b => b.Code).HasMaxLength(BinCode.MaxLength);
        builder.HasIndex(b => b.Code).IsUnique();
        // A bin keeps its kind for good, so items can refer to both.
        builder.HasAlternateKey(b => new { b.Id, b.Kind });
    }
}

internal sealed class ItemConfiguration : IEntityTypeConfiguration<Item>
{
    public void Configure(EntityTypeBuilder<Item> builder)
    {
        builder.Property(i => i.Code).HasMaxLength(24);
        builder.Property(i => i.Serial).HasMaxLength(64);
        builder.Property(i => i.Slot).HasMaxLength(40);
        builder.Property(i => i.Batch).HasMaxLength(40);
        builder.Property(i => i.Cost).HasPrecision(10, 2);
        builder.HasIndex(i => i.Serial);
        // Which units have a number inside.
        builder.HasIndex(i => new { i.NumberId, i.UnitId });
        // The stores alone: most items are inside units or gone.
        builder
            .HasIndex(
                i => new
                {
                    i.NumberId,
                    i.BinKind,
                    i.BinId,
                },
                "ix_items_in_house"
            )
            .HasDatabaseName("ix_items_in_house")
            .HasFilter("bin_kind <> 'Outside'");
        // What a number was bought for, of the few that anybody entered it for.
        builder.HasIndex(i => new { i.NumberId, i.Cost }).HasFilter("cost > 0");
        builder.HasIndex(i => i.Code).IsUnique();
        // A bin's contents in the order of their labels.
        builder.HasIndex(i => new
        {
            i.BinId,
            i.BinKind,
            i.Code,
        });
        // Most were built in, or came before orders were kept here.
        builder.HasIndex(i => i.OrderId).HasFilter("order_id IS NOT NULL");
        builder.HasOne(i => i.Order).WithMany().HasForeignKey(i => i.OrderId).OnDelete(DeleteBehavior.Restrict);
        builder.HasOne(i => i.Number).WithMany().HasForeignKey(i => i.NumberId).OnDelete(DeleteBehavior.Restrict);
        builder
            .HasOne(i => i.Bin)
            .WithMany()
            .HasForeignKey(i => new { i.BinId, i.BinKind })
            .HasPrincipalKey(b => new { b.Id, b.Kind })
            .OnDelete(DeleteBehavior.Restrict);
        builder.HasOne(i => i.Unit).WithMany().HasForeignKey(i => i.UnitId).OnDelete(DeleteBehavior.Restrict);
        builder.HasIndex(i => new { i.UnitId, i.Slot }).IsUnique();
        builder.Ignore(i => i.Place);
        builder.Property<uint>("xmin").IsRowVersion();
        builder.ToTable(t =>
        {
            t.HasCheckConstraint("ck_items_one_place", "(bin_id IS NULL) <> (unit_id IS NULL)");
            t.HasCheckConstraint("ck_items_place_kind", "(bin_id IS NULL) = (bin_kind IS NULL)");
            t.HasCheckConstraint("ck_items_slot_of_unit", "(unit_id IS NULL) = (slot IS NULL)");
        });
    }
}

internal sealed class LotConfiguration : IEntityTypeConfiguration<Lot>
{
    public void Configure(EntityTypeBuilder<Lot> builder)
    {
        builder.HasOne(l => l.Number).WithMany().HasForeignKey(l => l.NumberId).OnDelete(DeleteBehavior.Restrict);
        builder.HasOne(l => l.Bin).WithMany().HasForeignKey(l => l.BinId).OnDelete(DeleteBehavior.Restrict);
        builder.HasIndex(l => new { l.NumberId, l.BinId }).IsUnique();
        builder.ToTable(t =>
        {
            t.HasCheckConstraint("ck_lots_not_negative", "on_hand >= 0");
            t.HasCheckConstraint("ck_lots_promised_on_hand", "promised BETWEEN 0 AND on_hand");
        });
    }
}

internal sealed class MovementConfiguration : IEntityTypeConfiguration<MovementRecord>
{
    public void Configure(EntityTypeBuilder<MovementRecord> builder)
    {
        builder.ToTable("movements");
        builder.HasOne(m => m.By).WithMany().HasForeignKey(m => m.ById).OnDelete(DeleteBehavior.Restrict);
        builder.HasOne(m => m.Repair).WithMany().HasForeignKey(m => m.RepairId).OnDelete(DeleteBehavior.Restrict);
        builder.HasOne(m => m.Item).WithMany().HasForeignKey(m => m.ItemId).OnDelete(DeleteBehavior.Restrict);
        builder.HasOne<Lot>().WithMany().HasForeignKey(m => m.LotId).OnDelete(DeleteBehavior.Restrict);
        builder.HasOne<Bin>().WithMany().HasForeignKey(m => m.FromBinId).OnDelete(DeleteBehavior.Restrict);
        builder.HasOne<Bin>().WithMany().HasForeignKey(m => m.ToBinId).OnDelete(DeleteBehavior.Restrict);
        builder.HasOne<Unit>().WithMany().HasForeignKey(m => m.FromUnitId).OnDelete(DeleteBehavior.Restrict);
        builder.HasOne<Unit>().WithMany().HasForeignKey(m => m.ToUnitId).OnDelete(DeleteBehavior.Restrict);
        builder.Property(m => m.Note).HasMaxLength(MovementRecord.MaxNote);
        builder.HasOne<MovementRecord>().WithMany().HasForeignKey(m => m.RightsId).OnDelete(DeleteBehavior.Restrict);
        builder.HasIndex(m => m.RightsId).IsUnique();
        builder.Property(m => m.FromSlot).HasMaxLength(40);
        builder.Property(m => m.ToSlot).HasMaxLength(40);
        builder.HasIndex(m => new { m.ItemId, m.Id });
        builder.HasIndex(m => new { m.ToUnitId, m.ToSlot });
        // What happened in a bin since a count of it began.
        builder.HasIndex(m => new { m.ToBinId, m.Id });
        builder.HasIndex(m => new { m.FromBinId, m.Id });
        builder.HasIndex(m => new { m.LotId, m.Id });
        builder.ToTable(t =>
        {
            t.HasCheckConstraint("ck_movements_item_or_lot", "(item_id IS NULL) <> (lot_id IS NULL)");
            t.HasCheckConstraint("ck_movements_quantity", "quantity > 0 AND (item_id IS NULL OR quantity = 1)");
            t.HasCheckConstraint("ck_movements_one_destination", "(to_bin_id IS NULL) <> (to_unit_id IS NULL)");
        });
    }
}

internal sealed class ReservationConfiguration : IEntityTypeConfiguration<Reservation>
{
    public void Configure(EntityTypeBuilder<Reservation> builder)
    {
        builder.HasOne(r => r.Repair).WithMany().HasForeignKey(r => r.RepairId).OnDelete(DeleteBehavior.Restrict);
        builder.HasOne<RepairLine>().WithMany().HasForeignKey(r => r.LineId).OnDelete(DeleteBehavior.Restrict);
        builder
            .HasOne(r => r.Item)
            .WithOne(i => i.Reservation)
            .HasForeignKey<Reservation>(r => r.ItemId)
            .OnDelete(DeleteBehavior.Restrict);
        builder.HasOne(r => r.Lot).WithMany().HasForeignKey(r => r.LotId).OnDelete(DeleteBehavior.Restrict);
        builder.HasIndex(r => r.ItemId).IsUnique();
        builder.HasIndex(r => r.LineId).IsUnique();
        builder.ToTable(t =>
        {
            t.HasCheckConstraint("ck_reservations_item_or_lot", "(item_id IS NULL) <> (lot_id IS NULL)");
            t.HasCheckConstraint("ck_reservations_quantity", "quantity > 0");
        });
    }
}

internal sealed class StocktakeConfiguration : IEntityTypeConfiguration<Stocktake>
{
    public void Configure(EntityTypeBuilder<Stocktake> builder)
    {
        builder.HasOne(s => s.Bin).WithMany().HasForeignKey(s => s.BinId).OnDelete(DeleteBehavior.Restrict);
        builder.HasOne(s => s.By).WithMany().HasForeignKey(s => s.ById).OnDelete(DeleteBehavior.Restrict);
        builder.HasMany(s => s.Scanned).WithOne().HasForeignKey(l => l.StocktakeId).OnDelete(DeleteBehavior.Cascade);
        builder.HasMany(s => s.Lots).WithOne().HasForeignKey(l => l.StocktakeId).OnDelete(DeleteBehavior.Cascade);
        // Two do not count one bin against each other.
        builder
            .HasIndex(s => s.BinId, "ix_stocktakes_one_open_per_bin")
            .HasDatabaseName("ix_stocktakes_one_open_per_bin")
            .IsUnique()
            .HasFilter("ended_at IS NULL");
    }
}

internal sealed class ScannedItemConfiguration : IEntityTypeConfiguration<ScannedItem>
{
    public void Configure(EntityTypeBuilder<ScannedItem> builder)
    {
        builder.ToTable("stocktake_items");
        builder.HasKey(l => new { l.StocktakeId, l.ItemId });
        builder.HasOne(l => l.Item).WithMany().HasForeignKey(l => l.ItemId).OnDelete(DeleteBehavior.Restrict);
    }
}

internal sealed class CountedLotConfiguration : IEntityTypeConfiguration<CountedLot>
{
    public void Configure(EntityTypeBuilder<CountedLot> builder)
    {
        builder.ToTable("stocktake_lots", t => t.HasCheckConstraint("ck_stocktake_lots_counted", "counted >= 0"));
        builder.HasKey(l => new { l.StocktakeId, l.LotId });
        builder.HasOne(l => l.Lot).WithMany().HasForeignKey(l => l.LotId).OnDelete(DeleteBehavior.Restrict);
    }
}

internal sealed class DoneRequestConfiguration : IEntityTypeConfiguration<DoneRequest>
{
    public void Configure(EntityTypeBuilder<DoneRequest> builder)
    {
        // A sentence may name everything a count found: no bound of its own.
        builder.Property(r => r.Said);
        builder.Property(r => r.Act).HasMaxLength(200);
        builder.HasIndex(r => r.At);
    }
}
