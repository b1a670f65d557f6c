using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Zenrik.Workshop.Migrations
{
    /// <inheritdoc />
    public partial class WhereItCameFrom : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<Guid>(name: "order_id", table: "items", type: "uuid", nullable: true);

            migrationBuilder.CreateIndex(
                name: "ix_items_order_id",
                table: "items",
                column: "order_id",
                filter: "order_id IS NOT NULL"
            );

            migrationBuilder.AddForeignKey(
                name: "fk_items_part_orders_order_id",
                table: "items",
                column: "order_id",
                principalTable: "part_orders",
                principalColumn: "id",
                onDelete: ReferentialAction.Restrict
            );

            // What came before: taken in at the very moment the order says, of the number that was ordered.
            migrationBuilder.Sql(
                """
                UPDATE items i SET order_id = o.id
                FROM movements m, part_orders o, catalogue_numbers n
                WHERE m.item_id = i.id AND m.reason = 'Received' AND o.received_at = m.at
                  AND n.id = i.number_id AND upper(n.number) = upper(o.number)
                """
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropForeignKey(name: "fk_items_part_orders_order_id", table: "items");

            migrationBuilder.DropIndex(name: "ix_items_order_id", table: "items");

            migrationBuilder.DropColumn(name: "order_id", table: "items");
        }
    }
}
