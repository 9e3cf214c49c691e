from django.urls import path

from ridgeback.rooms import views

app_name = "rooms"
urlpatterns = [
    path("rooms/<int:pk>/power/", views.room_power, name="power"),
    path("rooms/<int:pk>/circuits/", views.circuits, name="circuits"),
]
