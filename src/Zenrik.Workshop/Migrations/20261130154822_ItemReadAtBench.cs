using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Zenrik.Workshop.Migrations
{
    /// <inheritdoc />
    public partial class ItemReadAtBench : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "item",
                table: "bench_entries",
                type: "character varying(24)",
                maxLength: 24,
                nullable: true
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(name: "item", table: "bench_entries");
        }
    }
}
