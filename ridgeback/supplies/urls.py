from django.urls import path

from ridgeback.supplies import views

app_name = "supplies"
urlpatterns = [
    path("supplies/", views.supplies, name="list"),
    path("supplies/<int:pk>/", views.move, name="move"),
    path("supplies/<int:pk>/details/", views.details, name="details"),
    path("supplies/freezer/", views.freezer, name="freezer"),
    path("supplies/mixes/new/", views.recipe, name="new-recipe"),
    path("supplies/mixes/<int:pk>/", views.recipe, name="recipe"),
]
