from django.urls import path

from ridgeback.supplies import views

app_name = "supplies"
urlpatterns = [
    path("supplies/", views.supplies, name="list"),
    path("supplies/<int:pk>/", views.move, name="move"),
]
