using Microsoft.EntityFrameworkCore.Storage.ValueConversion;
using Zenrik.Core.Stock;

namespace Zenrik.Workshop.Book;

internal sealed class UnitIdConverter() : ValueConverter<UnitId, Guid>(id => id.Value, value => new UnitId(value));

internal sealed class ItemIdConverter() : ValueConverter<ItemId, Guid>(id => id.Value, value => new ItemId(value));

internal sealed class BinIdConverter() : ValueConverter<BinId, Guid>(id => id.Value, value => new BinId(value));

internal sealed class RepairIdConverter()
    : ValueConverter<RepairId, Guid>(id => id.Value, value => new RepairId(value));
