using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Zenrik.Workshop.Migrations
{
    /// <inheritdoc />
    public partial class FaultySeenAt : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "faulty_at",
                table: "repair_lines",
                type: "character varying(120)",
                maxLength: 120,
                nullable: true
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(name: "faulty_at", table: "repair_lines");
        }
    }
}
