using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Zenrik.Workshop.Migrations
{
    /// <inheritdoc />
    public partial class ModelLife : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<bool>(
                name: "is_retired",
                table: "models",
                type: "boolean",
                nullable: false,
                defaultValue: false
            );

            migrationBuilder.AddColumn<string>(
                name: "merged_into",
                table: "models",
                type: "character varying(40)",
                nullable: true
            );

            migrationBuilder.AddColumn<int>(name: "warranty_months", table: "models", type: "integer", nullable: true);

            migrationBuilder.CreateIndex(name: "ix_models_merged_into", table: "models", column: "merged_into");

            migrationBuilder.AddForeignKey(
                name: "fk_models_models_merged_into",
                table: "models",
                column: "merged_into",
                principalTable: "models",
                principalColumn: "code",
                onDelete: ReferentialAction.Restrict
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropForeignKey(name: "fk_models_models_merged_into", table: "models");

            migrationBuilder.DropIndex(name: "ix_models_merged_into", table: "models");

            migrationBuilder.DropColumn(name: "is_retired", table: "models");

            migrationBuilder.DropColumn(name: "merged_into", table: "models");

            migrationBuilder.DropColumn(name: "warranty_months", table: "models");
        }
    }
}
