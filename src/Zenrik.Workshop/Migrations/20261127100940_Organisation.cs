using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Zenrik.Workshop.Migrations
{
    /// <inheritdoc />
    public partial class Organisation : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "organisation",
                table: "house_figures",
                type: "character varying(80)",
                maxLength: 80,
                nullable: true
            );

            migrationBuilder.AddColumn<string>(
                name: "tag_pattern",
                table: "house_figures",
                type: "character varying(32)",
                maxLength: 32,
                nullable: true
            );

            migrationBuilder.AddColumn<string>(
                name: "time_zone",
                table: "house_figures",
                type: "character varying(64)",
                maxLength: 64,
                nullable: true
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(name: "organisation", table: "house_figures");

            migrationBuilder.DropColumn(name: "tag_pattern", table: "house_figures");

            migrationBuilder.DropColumn(name: "time_zone", table: "house_figures");
        }
    }
}
