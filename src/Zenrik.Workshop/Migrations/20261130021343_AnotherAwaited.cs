using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Zenrik.Workshop.Migrations
{
    /// <inheritdoc />
    public partial class AnotherAwaited : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<Guid>(
                name: "faulty_item_id",
                table: "repair_lines",
                type: "uuid",
                nullable: true
            );

            migrationBuilder.AddColumn<string>(
                name: "faulty_seen",
                table: "repair_lines",
                type: "character varying(80)",
                maxLength: 80,
                nullable: true
            );

            migrationBuilder.CreateIndex(
                name: "ix_repair_lines_faulty_item_id",
                table: "repair_lines",
                column: "faulty_item_id"
            );

            migrationBuilder.AddForeignKey(
                name: "fk_repair_lines_items_faulty_item_id",
                table: "repair_lines",
                column: "faulty_item_id",
                principalTable: "items",
                principalColumn: "id",
                onDelete: ReferentialAction.Restrict
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropForeignKey(name: "fk_repair_lines_items_faulty_item_id", table: "repair_lines");

            migrationBuilder.DropIndex(name: "ix_repair_lines_faulty_item_id", table: "repair_lines");

            migrationBuilder.DropColumn(name: "faulty_item_id", table: "repair_lines");

            migrationBuilder.DropColumn(name: "faulty_seen", table: "repair_lines");
        }
    }
}
